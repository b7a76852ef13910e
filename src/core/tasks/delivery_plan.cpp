#include "core/formats/documents.h"
#include "core/formats/names.h"
#include "core/formats/picture_file.h"
#include "core/formats/whole_file.h"
#include "core/tasks/deliver_task.h"
#include "core/tasks/delivery_files.h"
#include "core/tasks/export_task.h"
#include "core/tasks/form_calibrations.h"
#include "core/tasks/job_task.h"
#include "core/tasks/receipt_book.h"

#include "core/base/capture_clock.h"
#include "core/base/letters.h"
#include "core/base/said.h"
#include "core/raw/file_digest.h"

#include <algorithm>
#include <ctime>
#include <fmt/format.h>
#include <map>
#include <set>
#include <sys/stat.h>
#include <system_error>
#include <unordered_map>
#include <unordered_set>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

constexpr const char *kPlaces =
    words::said("{frame}, {form}, {setup}, {camera}, {lens}, {date} and {calibration}");

std::string setupOf(const JobState &state, RowId setup)
{
    for (const auto &row : state.setups)
        if (row.id == setup)
            return row.title;
    return {};
}

/// What the places of a name stand for, for one item.
using NamePlaces = std::map<std::string, std::string>;

/// Each place's text as a file name, so that none makes a folder; a slash of the pattern does.
Result<std::string> filledName(const std::string &pattern, const NamePlaces &places)
{
    std::string out;
    for (size_t at = 0; at < pattern.size();) {
        const auto end = pattern[at] == '{' ? pattern.find('}', at) : pattern.npos;
        if (end == pattern.npos) {
            out += pattern[at++];
            continue;
        }
        const auto known = places.find(pattern.substr(at + 1, end - at - 1));
        if (known == places.end())
            return unusable(
                "\"{names}\": {place} is not one of {known}",
                {{"names", pattern}, {"place", pattern.substr(at, end + 1 - at)}, {"known", kPlaces}});
        out += fileNameOf(known->second.empty() ? "none" : known->second);
        at = end + 1;
    }
    const fs::path path(out);
    const bool leadsAway = path.is_absolute() || out.empty() || path.filename().empty() ||
                           std::any_of(path.begin(), path.end(), [](const fs::path &p) { return p == ".."; });
    if (leadsAway)
        return unusable("\"{names}\": does not make a name below the delivery's folder",
                        {{"names", pattern}});
    return out;
}

/// What its files are made by, wherever they go; crops are of a frame each.
DeliveryForm withoutPlaces(DeliveryForm form)
{
    form.folder.clear();
    form.crops.clear();
    return form;
}

class Planner
{
public:
    Planner(const PictureSource &source, const Delivery &asked)
        : m_source(source), m_state(source.state()), m_calibrations(source)
    {
        m_plan.asked = asked;
        m_plan.asked.receipts.clear();
        m_plan.asked.leftOut.clear();
        if (m_plan.asked.title.empty())
            m_plan.asked.title = m_state.title.text;
        if (m_plan.asked.names.empty())
            m_plan.asked.names = asked.forms.size() > 1 ? "{form}/{frame}" : "{frame}";
    }

    Result<DeliveryPlan> make()
    {
        const auto frames = framesAsked();
        if (!frames)
            return frames.error();
        Served served;
        for (const auto *frame : *frames)
            if (auto serves = servesOf(*frame))
                served.emplace_back(frame, std::make_shared<const PictureServes>(std::move(*serves)));
        for (m_form = 0; m_form < m_plan.asked.forms.size(); ++m_form) {
            if (const auto readable = m_calibrations.filesAreReadable(form().colour); !readable)
                return readable.error();
            if (const auto added = addForm(inFormsColour(served)); !added)
                return added.error();
        }
        return std::move(m_plan);
    }

private:
    using Served = std::vector<std::pair<const JobFrame *, std::shared_ptr<const PictureServes>>>;

    /// As the form wants them; those that cannot be had so are left out of it.
    Served inFormsColour(const Served &served)
    {
        if (form().colour == FormColour{})
            return served;
        Served out;
        for (const auto &[frame, serves] : served)
            if (m_calibrations.isPresetOfAnother(form().colour, frame->camera))
                m_plan.asked.leftOut.push_back({frame->path, "other-camera", form().name});
            else if (auto own = m_calibrations.serves(form().colour, *frame, *serves))
                out.emplace_back(frame, std::move(own));
            else
                m_plan.asked.leftOut.push_back({frame->path, "cannot-fit", form().name});
        return out;
    }

    Result<Done> addForm(const Served &served)
    {
        switch (form().kind) {
        case FormKind::Picture:
        case FormKind::Dng:
            return addFrames(served);
        case FormKind::Profile:
            return addProfiles(served);
        case FormKind::Balance:
            return addPresets(served);
        case FormKind::Values:
            break;
        }
        return addValues(served);
    }

    [[nodiscard]] const DeliveryForm &form() const { return m_plan.asked.forms[m_form]; }

    Result<std::vector<const JobFrame *>> framesAsked() const
    {
        const auto &asked = m_plan.asked;
        std::vector<const JobFrame *> out;
        static const std::vector<std::string> kNone;
        const auto &names = asked.frames ? *asked.frames : kNone;
        const std::unordered_set<std::string> named(names.begin(), names.end()),
            without(asked.without.begin(), asked.without.end());
        std::unordered_set<std::string> known;
        for (const auto &frame : m_state.frames) {
            known.insert(frame.path);
            const bool isWanted = asked.frames ? named.contains(frame.path)
                                               : frame.part == FramePart::Product && !frame.setAside;
            if (isWanted && !without.contains(frame.path))
                out.push_back(&frame);
        }
        for (const auto &name : names)
            if (!known.contains(name))
                return unusable("{file}: is not a frame of the job", {{"file", name}});
        CaptureClock clock;
        for (const auto *frame : out)
            clock.add(frame->camera.capturedAt);
        std::stable_sort(out.begin(), out.end(), [&](const JobFrame *a, const JobFrame *b) {
            return clock.isBefore(a->camera.capturedAt, b->camera.capturedAt);
        });
        return out;
    }

    /// Nothing where the frame is left out, which is noted.
    std::optional<PictureServes> servesOf(const JobFrame &frame)
    {
        std::error_code code;
        const auto why = [&](const char *reason) {
            m_plan.asked.leftOut.push_back({frame.path, reason, {}});
            return std::nullopt;
        };
        if (!fs::is_regular_file(m_source.fileOf(frame), code))
            return why("missing");
        auto serves = m_source.servesFor(frame);
        if (serves.isServed)
            return serves;
        if (serves.fault)
            return why("unreadable");
        const auto &serving = m_source.job().serving(frame.id);
        return why(serving.isServed()                                     ? "no-calibration"
                   : serving.without == Serving::Without::ChartOfThisPair ? "no-chart-of-this-pair"
                                                                          : "no-chart");
    }

    Result<Done> add(const NamePlaces &places, const std::string &extension, DeliveryItem item,
                     const std::string &names)
    {
        const auto name = filledName(names, places);
        if (!name)
            return name.error();
        auto path = *name + extension;
        if (const auto first = m_taken.find(path); first != m_taken.end())
            item.sharesName = m_plan.items[first->second].sharesName = true;
        int &last = m_numbers.try_emplace(path, 1).first->second;
        while (!m_taken.emplace(path, m_plan.items.size()).second)
            path = fmt::format("{}-{}{}", *name, ++last, extension);
        item.form = m_form;
        item.planned.path = path;
        item.planned.form = form().name;
        item.planned.madeBy = sha256Of(textOf(withoutPlaces(form())) + item.planned.madeBy);
        m_plan.items.push_back(std::move(item));
        return Done{};
    }

    NamePlaces placesOf(const JobFrame &frame, const PictureServes &serves) const
    {
        return {{"frame", fs::path(frame.path).stem().string()},
                {"form", form().name},
                {"setup", setupOf(m_state, frame.setup)},
                {"camera", frame.camera.model},
                {"lens", frame.camera.lens},
                {"date", frame.camera.capturedAt.substr(0, 10)},
                {"calibration", serves.calibration.name}};
    }

    /// Text of all that makes a frame's colour.
    std::string makingOf(const PictureServes &serves)
    {
        if (m_writtenText.empty() || !(m_written == serves.calibration)) {
            m_written = serves.calibration;
            m_writtenText = documentOf(m_written);
        }
        std::string out = m_writtenText + std::to_string(serves.level) + std::to_string(int(serves.time)) +
                          std::to_string(serves.edgeSpread) + std::to_string(serves.distortion) +
                          std::to_string(serves.pixelsPerInch);
        if (serves.balance)
            out += documentOf(*serves.balance);
        for (const auto &flat : serves.flats)
            out += flat.string() + "\n";
        return out;
    }

    DeliveryItem itemOf(const JobFrame &source, const PictureServes &serves)
    {
        DeliveryItem out;
        out.chart = serves.chart;
        out.isByBrought = serves.brought != 0;
        if (const auto *chart = m_state.frame(serves.chart))
            out.chartAt = chart->camera.capturedAt;
        out.doubts = serves.doubts;
        if (serves.doubtOfLevel && form().kind == FormKind::Picture &&
            form().picture.level == PictureLevel::Chart)
            out.doubts.push_back(*serves.doubtOfLevel);
        out.planned.source = source.path;
        out.planned.sourceSha256 = source.sha256;
        out.planned.calibration = serves.calibration.name;
        for (const auto &doubt : out.doubts)
            out.planned.doubts.push_back(doubt.code);
        out.planned.madeBy = makingOf(serves) + source.sha256;
        return out;
    }

    Result<Done> addFrames(const Served &served)
    {
        const bool isCopy = form().kind == FormKind::Dng;
        for (const auto &[frame, serves] : served) {
            if (isCopy && frame->camera.isRendered) {
                m_plan.asked.leftOut.push_back({frame->path, "not-raw", form().name});
                continue;
            }
            auto item = itemOf(*frame, *serves);
            item.frame = frame->id;
            item.serves = serves;
            item.crop = isCopy ? std::nullopt : cropOf(*frame);
            if (item.crop)
                item.planned.madeBy += cropText(*item.crop);
            std::error_code code;
            item.roughBytes = isCopy ? fs::file_size(m_source.fileOf(*frame), code)
                                     : roughPictureBytes(form().picture, frame->width, frame->height);
            const auto extension = isCopy ? std::string(".dng") : extensionOf(form().picture.format);
            if (const auto added = add(placesOf(*frame, *serves), extension, item, m_plan.asked.names);
                !added)
                return added;
        }
        return Done{};
    }

    /// The form's own, else the frame's in the job.
    [[nodiscard]] std::optional<PictureCrop> cropOf(const JobFrame &frame) const
    {
        const auto own = form().crops.find(frame.path);
        return own != form().crops.end() ? std::optional(own->second) : frame.crop;
    }

    /// Of what is not a frame, by its own name.
    [[nodiscard]] std::string namesBeside() const
    {
        return m_plan.asked.forms.size() > 1 ? "{form}/{frame}" : "{frame}";
    }

    /// The frame that a calibration is said to come from.
    [[nodiscard]] const JobFrame &sourceOf(const JobFrame &served, const PictureServes &serves) const
    {
        const auto *chart = m_state.frame(serves.chart);
        return chart ? *chart : served;
    }

    /// What serves any of the frames, once each, by balance too.
    Result<Done> addPresets(const Served &served)
    {
        std::set<std::string> seen;
        for (const auto &[frame, serves] : served) {
            const bool isOwn = serves->balance.has_value();
            const auto key = fmt::format("{} {} {}", serves->chart, serves->brought,
                                         isOwn ? documentOf(*serves->balance) : std::string());
            if (!seen.insert(key).second)
                continue;
            auto item = itemOf(sourceOf(*frame, *serves), *serves);
            item.frame = frame->id;
            item.serves = serves;
            item.roughBytes = 1000;
            const auto places = NamePlaces{{"frame", serves->calibration.name + (isOwn ? " own" : "")},
                                           {"form", form().name}};
            if (const auto added = add(places, ".balance.json", item, namesBeside()); !added)
                return added;
        }
        return Done{};
    }

    /// Profiles of what serves any of the frames, of the chart frames that are named, and of documents.
    Result<Done> addProfiles(const Served &served)
    {
        std::vector<RowId> charts;
        std::map<RowId, const PictureServes *> servesBy;
        std::set<RowId> brought;
        for (const auto &[frame, serves] : served)
            if (serves->brought) {
                if (!brought.insert(serves->brought).second)
                    continue;
                if (const auto added =
                        addFilesOf({{}, {}, serves->brought}, itemOf(sourceOf(*frame, *serves), *serves));
                    !added)
                    return added;
            } else if (const auto chart = profileChartOf(m_source, *frame, *serves);
                       servesBy.emplace(chart, serves.get()).second) {
                charts.push_back(chart);
            }
        for (const auto &source : profileSources(m_state, charts, form().profile.lights)) {
            if (source.charts.size() > 3) {
                m_plan.asked.leftOut.push_back(
                    {m_state.frame(source.charts.front())->path, "too-many-lights", form().name});
                continue;
            }
            auto item = itemOf(*m_state.frame(source.charts.front()), *servesBy.at(source.charts.front()));
            item.chart = source.charts.front();
            if (const auto added = addFilesOf(source, item); !added)
                return added;
        }
        for (const auto &document : m_plan.asked.calibrations)
            if (const auto added = addDocument(document); !added)
                return added;
        return Done{};
    }

    Result<Done> addDocument(const std::string &document)
    {
        const auto hash = sha256OfFile(m_source.folder() / document);
        if (!hash) {
            m_plan.asked.leftOut.push_back({document, "missing", form().name});
            return Done{};
        }
        DeliveryItem item;
        item.planned.source = document;
        item.planned.sourceSha256 = item.planned.madeBy = *hash;
        return addFilesOf({{}, document, 0}, item);
    }

    /// The form's files of one calibration. Those that hold one light only are made of each.
    Result<Done> addFilesOf(const ProfileSource &source, const DeliveryItem &item)
    {
        for (const auto file : form().profile.files) {
            const auto &row = profileFiles()[size_t(file)];
            const bool isApart = row.isOfOneLight && source.charts.size() > 1;
            for (const auto &one :
                 isApart ? profileSources(m_state, source.charts, ProfileLights::Each) : std::vector{source})
                if (const auto added = addFile(one, row, item); !added)
                    return added;
        }
        return Done{};
    }

    Result<Done> addFile(const ProfileSource &source, const ProfileFileRow &row, DeliveryItem item)
    {
        const auto calibration = m_calibrations.of(form().colour, source);
        if (!calibration) { // the other files are written
            const char *why = source.charts.size() > 1   ? "cannot-join"
                              : form().colour.fitsAnew() ? "cannot-fit"
                                                         : "unreadable";
            const DeliveryLeftOut out{item.planned.source, why, form().name};
            auto &leftOut = m_plan.asked.leftOut;
            if (leftOut.empty() || !(leftOut.back() == out)) // said once, whatever files it has
                leftOut.push_back(out);
            return Done{};
        }
        const auto *chart = source.charts.empty() ? nullptr : m_state.frame(source.charts.front());
        if (row.file == ProfileFile::ChartDng && (!chart || chart->camera.isRendered)) {
            m_plan.asked.leftOut.push_back({item.planned.source, "not-raw", form().name});
            return Done{};
        }
        const bool isForRaw = row.file == ProfileFile::Dcp || row.file == ProfileFile::PictureCube;
        if (isForRaw && calibration->fileColor.xyzD50FromRendered) {
            m_plan.asked.leftOut.push_back({item.planned.source, "not-raw", form().name});
            return Done{};
        }
        if (chart) {
            item.chart = chart->id;
            item.planned.source = chart->path;
            item.planned.sourceSha256 = chart->sha256;
        }
        item.profile = source;
        item.calibration = std::make_shared<const Calibration>(*calibration);
        item.file = row.file;
        item.roughBytes = 60000;
        item.planned.calibration = calibration->name;
        item.planned.madeBy += documentOf(*calibration) + row.id;
        NamePlaces places{{"calibration", calibration->name},
                          {"setup", calibration->asked.setup},
                          {"camera", calibration->camera.model},
                          {"lens", calibration->camera.lens},
                          {"date", calibration->camera.capturedAt.substr(0, 10)}};
        if (!form().profile.name.empty()) {
            const auto name = filledName(form().profile.name, places);
            if (!name)
                return name.error();
            item.nameInProfile = *name;
        }
        places["frame"] = item.nameInProfile.empty() ? calibration->name : item.nameInProfile;
        places["form"] = form().name;
        if (const auto added = add(places, row.ending, item, namesBeside()); !added)
            return added;
        if (row.file == ProfileFile::Cube && hasTableBefore(*calibration, form().profile))
            addTableBefore();
        return Done{};
    }

    /// The table that goes before the .cube that was just planned.
    void addTableBefore()
    {
        auto item = m_plan.items.back();
        item.isTableBefore = true;
        item.planned.path = tableBefore(item.planned.path).string();
        m_taken.emplace(item.planned.path, m_plan.items.size());
        m_plan.items.push_back(std::move(item));
    }

    Result<Done> addValues(const Served &served)
    {
        std::set<std::pair<RowId, RowId>> seen;
        std::string making;
        for (const auto &[frame, serves] : served) {
            making += makingOf(*serves) + frame->sha256;
            if (!seen.emplace(serves->chart, serves->brought).second)
                continue;
            auto item = itemOf(sourceOf(*frame, *serves), *serves);
            item.roughBytes = 8000;
            if (serves->brought)
                item.profile.calibration = serves->brought;
            else
                item.profile.charts = {serves->chart};
            const auto calibration = m_calibrations.of({}, item.profile);
            if (!calibration)
                return calibration.error();
            item.calibration = std::make_shared<const Calibration>(*calibration);
            item.file = ProfileFile::Csv;
            if (const auto added = add({{"frame", serves->calibration.name}, {"form", form().name}}, ".csv",
                                       item, namesBeside());
                !added)
                return added;
        }
        for (const auto &row : m_state.probes)
            making += fmt::format("{} {} {} {} {}\n", row.frame, row.place.name, row.place.x, row.place.y,
                                  row.place.radius);
        DeliveryItem probes;
        probes.planned.madeBy = making;
        probes.roughBytes = 2000;
        const bool anyProbe = std::any_of(served.begin(), served.end(), [&](const auto &one) {
            return !m_state.probesOf(one.first->id).empty();
        });
        return anyProbe ? add({{"frame", "probes"}, {"form", form().name}}, ".csv", probes, namesBeside())
                        : Result<Done>(Done{});
    }

    const PictureSource &m_source;
    const JobState &m_state;
    FormCalibrations m_calibrations;
    DeliveryPlan m_plan;
    size_t m_form = 0;
    std::map<std::string, size_t> m_taken; ///< path → item
    std::map<std::string, int> m_numbers;  ///< of a path that several asked for: the last that was given
    Calibration m_written;                 ///< that m_writtenText is of: thousands of frames share a few
    std::string m_writtenText;
};

} // namespace

std::string fileNameExtension(const std::string &path)
{
    return letters::lower(fs::path(path).extension().string());
}

uint64_t roughPictureBytes(const PictureSettings &settings, int width, int height)
{
    double pixels = double(width) * height;
    const double longSide = std::max(width, height), wanted = settings.longSide.value_or(0);
    if (wanted > 0 && wanted < longSide)
        pixels *= (wanted / longSide) * (wanted / longSide);
    const double aPixel = settings.format == PictureFormat::Jpeg    ? 0.7
                          : settings.format == PictureFormat::Png16 ? 4.5
                          : settings.deflate                        ? 5
                                                                    : 6;
    return uint64_t(pixels * aPixel);
}

std::vector<std::string> DeliveryPlan::inTheWay() const
{
    std::vector<std::string> out;
    for (const auto &item : items)
        if (item.isInTheWay)
            out.push_back(item.planned.path);
    return out;
}

std::vector<std::string> DeliveryPlan::sharingNames() const
{
    std::vector<std::string> out;
    for (const auto &item : items)
        if (item.sharesName)
            out.push_back(item.planned.path);
    return out;
}

uint64_t DeliveryPlan::roughBytes() const
{
    uint64_t out = 0;
    for (const auto &item : items)
        if (!item.isDone)
            out += item.roughBytes;
    return out;
}

Delivery DeliveryPlan::dryRun() const
{
    Delivery out = asked;
    out.receipts.clear();
    for (const auto &item : items) {
        if (item.isInTheWay) {
            out.leftOut.push_back({item.shownPath(), "in-the-way", item.planned.form});
            continue;
        }
        out.receipts.push_back(item.planned);
        auto &receipt = out.receipts.back();
        receipt.path = item.shownPath();
        receipt.madeBy.clear();
        receipt.isStale = item.isStale();
    }
    out.receipts.insert(out.receipts.end(), outlived.begin(), outlived.end());
    return out;
}

std::string DeliveryItem::shownPath() const
{
    return isElsewhere ? (folder / planned.path).string() : planned.path;
}

Result<Delivery> loadDelivery(const fs::path &file)
{
    const auto text = readText(file);
    return text ? deliveryFrom(*text, file.string()) : text.error();
}

Result<DeliveryForm> pictureForm(const fs::path &plan, const std::string &name)
{
    const auto delivery = loadDelivery(plan);
    if (!delivery)
        return delivery.error();
    for (const auto &form : delivery->forms)
        if (form.name == name && form.kind == FormKind::Picture)
            return form;
    return unusable("{file}: has no form of pictures called {name}",
                    {{"file", plan.string()}, {"name", name}});
}

/// As receipts say it (ISO 8601, local).
static std::string timeText(time_t time)
{
    std::tm local{};
    localtime_r(&time, &local);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%S", &local);
    return text;
}

/// Was the file written to, moved or replaced after that time, or in that second?
static bool isNewerThan(const fs::path &file, const std::string &time)
{
    struct stat info
    {
    };
    return ::stat(file.c_str(), &info) != 0 || time.empty() ||
           timeText(std::max(info.st_mtime, info.st_ctime)).compare(0, 19, time) >= 0;
}

/// Was it written to after that time? Its own move to its place does not count.
static bool wasWrittenTo(const fs::path &file, const std::string &time)
{
    struct stat info
    {
    };
    return ::stat(file.c_str(), &info) != 0 || timeText(info.st_mtime).compare(0, 19, time) > 0;
}

/// What lies at an item's place.
static void look(DeliveryItem &item, const DeliveryReceipt *receipt, bool verify)
{
    std::error_code code;
    const auto file = item.folder / item.planned.path;
    if (!fs::exists(fs::symlink_status(file, code)))
        return;
    const bool hasItsSize = receipt && fs::is_regular_file(fs::symlink_status(file, code)) &&
                            fs::file_size(file, code) == receipt->bytes;
    const bool mayDiffer = hasItsSize && (verify || wasWrittenTo(file, receipt->writtenAt));
    const auto hash = mayDiffer ? sha256OfFile(file) : Result<std::string>(receipt ? receipt->sha256 : "");
    item.isOurs = hasItsSize && hash && *hash == receipt->sha256;
    item.isInTheWay = !item.isOurs;
    item.isDone = item.isOurs && receipt->madeBy == item.planned.madeBy;
}

/// Files that are done stay so only while their sources are what they were made from.
static void leaveOutChanged(DeliveryPlan &plan, const PictureSource &source,
                            const std::unordered_map<std::string, const DeliveryReceipt *> &receipts)
{
    std::map<RowId, bool> isChanged;
    for (const auto &item : plan.items) {
        const auto *frame = source.state().frame(item.frame);
        if (!frame || !item.isDone || isChanged.count(item.frame) ||
            !isNewerThan(source.fileOf(*frame), receipts.at(item.planned.path)->writtenAt))
            continue;
        const auto hash = sha256OfFile(source.fileOf(*frame));
        isChanged[item.frame] = hash && *hash != frame->sha256;
    }
    std::erase_if(plan.items, [&](const DeliveryItem &item) {
        const auto at = isChanged.find(item.frame);
        return item.frame != 0 && at != isChanged.end() && at->second;
    });
    for (const auto &[id, changed] : isChanged)
        if (changed)
            plan.asked.leftOut.push_back({source.state().frame(id)->path, "source-changed", {}});
}

/// Files of the folder's receipts that a form wrote under a name it does not give any more, of what it writes
/// under another one now: a profile whose calibration's name says its parts.
static std::vector<DeliveryReceipt> outlivedIn(const DeliveryPlan &plan)
{
    const auto keyOf = [](const DeliveryReceipt &r) {
        return r.form + '\n' + r.source + '\n' + fileNameExtension(r.path);
    };
    std::set<std::string> paths, keys;
    for (const auto &item : plan.items) {
        paths.insert(item.planned.path);
        keys.insert(keyOf(item.planned));
    }
    std::vector<DeliveryReceipt> out;
    for (const auto &receipt : plan.asked.receipts)
        if (!paths.contains(receipt.path) && keys.contains(keyOf(receipt))) {
            out.push_back(receipt);
            out.back().isStale = true;
        }
    return out;
}

Result<DeliveryPlan> planOneFolder(const PictureSource &source, const Delivery &asked, const fs::path &folder,
                                   bool verify)
{
    auto plan = Planner(source, asked).make();
    if (!plan)
        return plan;
    const auto book = ReceiptBook::read(folder);
    if (!book)
        return book.error();
    std::unordered_map<std::string, const DeliveryReceipt *> receipts;
    plan->asked.receipts = book->all();
    for (const auto &receipt : plan->asked.receipts)
        receipts[receipt.path] = &receipt;
    for (auto &item : plan->items) {
        const auto at = receipts.find(item.planned.path);
        item.folder = folder;
        look(item, at == receipts.end() ? nullptr : at->second, verify);
    }
    if (verify)
        leaveOutChanged(*plan, source, receipts);
    plan->outlived = outlivedIn(*plan);
    return plan;
}

std::vector<FolderOfDelivery> foldersOf(const PictureSource &source, const Delivery &asked,
                                        const fs::path &folder)
{
    std::vector<FolderOfDelivery> out;
    for (size_t i = 0; i < asked.forms.size(); ++i) {
        const auto &form = asked.forms[i];
        const auto place = form.folder.empty() ? folder : (source.folder() / form.folder).lexically_normal();
        auto at = std::find_if(out.begin(), out.end(),
                               [&](const FolderOfDelivery &other) { return other.folder == place; });
        if (at == out.end()) {
            out.push_back({place, asked, {}, !form.folder.empty() && place != folder});
            at = out.end() - 1;
            at->asked.forms.clear();
        }
        at->asked.forms.push_back(form);
        at->forms.push_back(i);
    }
    return out;
}

Result<DeliveryPlan> planDelivery(const PictureSource &source, const Delivery &asked, const fs::path &folder,
                                  bool verify)
{
    DeliveryPlan out;
    out.asked = asked;
    out.asked.receipts.clear();
    out.asked.leftOut.clear();
    for (const auto &one : foldersOf(source, asked, folder)) {
        if (one.folder.empty())
            return unusable("the form {name} has no folder, and none is given for all",
                            {{"name", one.asked.forms.front().name}});
        auto plan = planOneFolder(source, one.asked, one.folder, verify);
        if (!plan)
            return plan;
        out.asked.title = plan->asked.title;
        if (out.asked.names.empty())
            out.asked.names = plan->asked.names;
        for (auto &item : plan->items) {
            item.form = one.forms[item.form];
            item.isElsewhere = one.isElsewhere;
            out.items.push_back(std::move(item));
        }
        const auto shown = [&](DeliveryReceipt receipt) {
            if (one.isElsewhere)
                receipt.path = (one.folder / receipt.path).string();
            return receipt;
        };
        for (const auto &receipt : plan->asked.receipts)
            out.asked.receipts.push_back(shown(receipt));
        for (const auto &receipt : plan->outlived)
            out.outlived.push_back(shown(receipt));
        for (const auto &left : plan->asked.leftOut)
            if (std::find(out.asked.leftOut.begin(), out.asked.leftOut.end(), left) ==
                out.asked.leftOut.end())
                out.asked.leftOut.push_back(left);
    }
    return out;
}

} // namespace wavechroma
