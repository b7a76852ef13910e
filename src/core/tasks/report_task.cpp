#include "core/tasks/report_task.h"

#include "core/formats/small_jpeg.h"
#include "core/formats/whole_file.h"
#include "core/measure/upright.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "core/raw/overview.h"
#include "core/render/display_picture.h"
#include "core/tasks/look_task.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr int kPixelsWide = 560; ///< of a picture's longer side: the report stays small enough to send

/// The area of a picture, in its pixels.
struct Area
{
    int x = 0, y = 0, width = 0, height = 0;
};

/// A part of a picture turned upright, and where its points have gone.
struct UprightPart
{
    std::vector<uint32_t> rgb;
    int width = 0, height = 0;
    Area area;
    int orientation = 1;
    [[nodiscard]] PixelPoint at(double x, double y) const
    {
        const PixelPoint fromMiddle{x - area.x - area.width / 2., y - area.y - area.height / 2.};
        const auto turned = upright(fromMiddle, orientation);
        return {turned.x + width / 2., turned.y + height / 2.};
    }
};

UprightPart uprightPart(const DisplayPicture &picture, const Area &area, int orientation)
{
    const bool isSideways = orientation >= 5;
    UprightPart out{
        {}, isSideways ? area.height : area.width, isSideways ? area.width : area.height, area, orientation};
    out.rgb.resize(size_t(out.width) * size_t(out.height));
    for (int y = area.y; y < area.y + area.height; ++y)
        for (int x = area.x; x < area.x + area.width; ++x) {
            const auto to = out.at(x + 0.5, y + 0.5);
            const auto column = std::clamp(int(to.x), 0, out.width - 1),
                       row = std::clamp(int(to.y), 0, out.height - 1);
            out.rgb[size_t(row) * size_t(out.width) + size_t(column)] =
                picture.rgb[size_t(y) * size_t(picture.width) + size_t(x)];
        }
    return out;
}

std::optional<ReportPicture> pictureOf(const UprightPart &part, double shownWidth)
{
    auto jpeg = smallJpegOf(part.rgb, part.width, part.height, 82);
    if (!jpeg)
        return {};
    // tall ones are not shown wider than they would be high
    const double width = shownWidth * std::min(1., 1. * part.width / std::max(1, part.height));
    return ReportPicture{
        std::make_shared<const Bytes>(std::move(*jpeg)), part.width, part.height, width, {}, {}};
}

DisplayPicture looked(const RawFrame &frame, const PictureServes &serves, int longSide)
{
    const int block = std::max(smallestBlock(frame),
                               int(std::ceil(std::max(frame.width, frame.height) / double(longSide))));
    return displayPicture(frame, serves.isServed ? shownBy(frame, serves) : displayColorOf(frame), block);
}

/// The chart with a margin of a sixth round it.
Area areaOf(const Corners &corners, const DisplayPicture &picture)
{
    double left = 1e9, right = 0, top = 1e9, bottom = 0;
    for (const auto &c : corners) {
        left = std::min(left, c.x / picture.block);
        right = std::max(right, c.x / picture.block);
        top = std::min(top, c.y / picture.block);
        bottom = std::max(bottom, c.y / picture.block);
    }
    const double margin = (right - left + bottom - top) / 12;
    const int x = std::clamp(int(left - margin), 0, picture.width - 1),
              y = std::clamp(int(top - margin), 0, picture.height - 1);
    return {x, y, std::clamp(int(right + margin) - x, 1, picture.width - x),
            std::clamp(int(bottom + margin) - y, 1, picture.height - y)};
}

class PicturesOfRecord
{
public:
    PicturesOfRecord(const PictureSource &source, JobRecord &record, double width)
        : m_source(source), m_record(record), m_width(width)
    {
    }

    RecordPictures all(const Progress &progress)
    {
        const double count = double(m_record.stations.size() + m_record.objects.size());
        double done = 0;
        for (const auto &station : m_record.stations) {
            progress.at(done++ / count, {"{station}", {{"station", station.name}}});
            addChart(station);
            addSetup(station);
        }
        std::set<std::string> seen;
        for (const auto &object : m_record.objects) {
            progress.at(done++ / count, {"{file}", {{"file", object.image}}});
            if (!progress.stopped() && seen.insert(object.image).second)
                addObject(object.image);
        }
        return std::move(m_out);
    }

private:
    const JobFrame *rowOf(const std::string &path) const
    {
        const auto &frames = m_source.state().frames;
        const auto found =
            std::find_if(frames.begin(), frames.end(), [&](const auto &f) { return f.path == path; });
        return found == frames.end() ? nullptr : &*found;
    }

    void addChart(const RecordStation &station)
    {
        const auto *row = station.reading && station.figures ? rowOf(station.reading->image) : nullptr;
        if (!row)
            return;
        const auto frame = openFrame(m_source.fileOf(*row));
        if (!frame) {
            m_record.unread.push_back(row->path);
            return;
        }
        // the chart itself is to be about that wide
        const auto &c = station.reading->corners;
        const double wide = std::max(std::hypot(c[1].x - c[0].x, c[1].y - c[0].y),
                                     std::hypot(c[3].x - c[0].x, c[3].y - c[0].y)),
                     whole = std::max(frame->width, frame->height);
        const auto picture = looked(*frame, m_source.servesFor(*row),
                                    int(std::clamp(whole / std::max(1., wide) * kPixelsWide, 400., 4000.)));
        if (picture.rgb.empty())
            return;
        if (auto one = pictureOf(uprightPart(picture, areaOf(c, picture), row->orientation), 0.5 * m_width))
            m_out.charts[station.name] = std::move(*one);
    }

    void addSetup(const RecordStation &station)
    {
        if (station.setup.picture.empty())
            return;
        int orientation = 1;
        const auto picture =
            smallPicture(m_source.folder() / station.setup.picture, kPixelsWide, &orientation);
        if (!picture) {
            m_record.unread.push_back(station.setup.picture);
            return;
        }
        if (auto one = pictureOf(uprightPart(*picture, {0, 0, picture->width, picture->height}, orientation),
                                 0.5 * m_width))
            m_out.setups[station.name] = std::move(*one);
    }

    void addObject(const std::string &path)
    {
        const auto *row = rowOf(path);
        const auto frame = row ? openFrame(m_source.fileOf(*row)) : Result<RawFrame>(unusable("none"));
        if (!row || !frame)
            return; // named by the record already
        const auto picture = looked(*frame, m_source.servesFor(*row), kPixelsWide);
        if (picture.rgb.empty())
            return;
        const auto part = uprightPart(picture, {0, 0, picture.width, picture.height}, row->orientation);
        auto one = pictureOf(part, 0.48 * m_width);
        if (!one)
            return;
        const double scale = one->shownWidth / part.width;
        for (const auto &object : m_record.objects)
            if (object.image == path) {
                const auto &place = object.probe.place;
                const auto at = part.at(place.x / picture.block, place.y / picture.block);
                addMark(*one, {scale * at.x, scale * at.y}, scale * place.radius / picture.block, place.name);
            }
        m_out.objects[path] = std::move(*one);
    }

    /// A ring with its name beside it on paper, which stays readable on any picture.
    static void addMark(ReportPicture &to, const PixelPoint &at, double radius, const std::string &name)
    {
        Stroke ring{{}, 1, Ink{1}, false};
        for (int i = 0; i <= 36; ++i)
            ring.points.push_back(
                {at.x + radius * std::cos(i * M_PI / 18), at.y + radius * std::sin(i * M_PI / 18)});
        to.marks.push_back(ring);
        const double wide = 3.6 * double(name.size()) + 5;
        to.marks.push_back(Box{at.x - wide / 2, at.y + radius + 2, wide, 9, Ink{0.96}});
        to.marks.push_back(Label{at.x, at.y + radius + 8.8, name, 6, false, Label::From::Middle});
    }

    const PictureSource &m_source;
    JobRecord &m_record;
    double m_width;
    RecordPictures m_out;
};

bool isPage(const fs::path &file)
{
    const auto end = file.extension();
    return end == ".html" || end == ".htm";
}

} // namespace

Result<JobRecord> makeReport(const PictureSource &source, const ReportRequest &request,
                             const Progress &progress)
{
    for (const auto &file : request.files)
        if (!isPage(file) && file.extension() != ".pdf")
            return unusable("{file}: a report is written as .pdf or .html", {{"file", file.string()}});
    auto record = recordOf(source, request.record, progress.part(0, 0.6));
    if (!record)
        return record.error();
    PicturesOfRecord pictures(source, *record, textWidth(request.paper));
    const auto shown = pictures.all(progress.part(0.6, 0.95));
    if (progress.stopped())
        return unusable("{job}: stopped", {{"job", source.folder().string()}});
    const auto document = documentOf(*record);
    const auto report = reportOf(*record, shown, request.paper, sha256Of(document));
    std::vector<OutputFile> files;
    for (const auto &file : request.files) {
        if (isPage(file)) {
            files.push_back({file, bytesOf(htmlOf(report))});
            continue;
        }
        auto pdf = pdfOf(report);
        if (!pdf)
            return pdf.error();
        files.push_back({file, std::move(*pdf)});
    }
    if (!request.recordFile.empty())
        files.push_back({request.recordFile, bytesOf(document)});
    for (const auto &file : files) {
        std::error_code code;
        fs::create_directories(file.path.parent_path(), code);
    }
    if (const auto written = writeWhole(files); !written)
        return written.error();
    return record;
}

} // namespace wavechroma
