#include "core/tasks/deliver_task.h"

#include "core/formats/documents.h"
#include "core/formats/picture_file.h"
#include "core/formats/whole_file.h"
#include "core/raw/file_digest.h"
#include "core/tasks/delivery_files.h"
#include "core/tasks/delivery_places.h"
#include "core/tasks/export_task.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/receipt_book.h"
#include "core/tasks/render_task.h"

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <cstring>
#include <ctime>
#include <fmt/format.h>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

std::string now()
{
    const std::time_t time = std::time(nullptr);
    std::tm local{};
    localtime_r(&time, &local);
    char text[32];
    std::strftime(text, sizeof text, "%Y-%m-%dT%H:%M:%S", &local);
    return text;
}

Result<Done> madeFolder(const fs::path &folder)
{
    std::error_code code;
    fs::create_directories(folder, code);
    if (code)
        return unusable("{file}: cannot be made: {why}",
                        {{"file", folder.string()}, {"why", code.message()}});
    return Done{};
}

/// Makes the items' files under a name of its own.
class Maker
{
public:
    Maker(const PictureSource &source, const DeliveryPlan &plan, const DeliverOptions &options,
          const Progress &progress)
        : m_source(source), m_plan(plan), m_onRemark(options.onRemark)
    {
        m_progress.cancelled = progress.cancelled;
        if (progress.report) // a picture's own steps are part of its file's
            m_progress.report = [this, &progress](double fraction, const words::Phrase &) {
                progress.at(m_from + fraction * m_share, m_what);
            };
    }
    Maker(const Maker &) = delete;
    Maker &operator=(const Maker &) = delete;

    /// What is made next, for the progress.
    void beginFile(const DeliveryItem &item, size_t number)
    {
        const double all = double(std::max<size_t>(m_plan.items.size(), 1));
        m_from = double(number) / all;
        m_share = 1 / all;
        m_what = {"{file}, {n} of {all}",
                  {{"file", item.planned.path}, {"n", double(number + 1)}, {"all", all}}};
        m_progress.at(0, m_what);
    }

    /// Of the frame that an item is made of, before it is; empty for an item of no frame. renderPicture()
    /// refuses a file that changes from then on.
    [[nodiscard]] Result<std::string> sourceHash(const DeliveryItem &item) const
    {
        const auto *frame = m_source.state().frame(item.frame);
        const auto kind = m_plan.asked.forms[item.form].kind;
        return frame && (kind == FormKind::Picture || kind == FormKind::Dng)
                   ? sha256OfFile(m_source.fileOf(*frame))
                   : Result<std::string>(std::string());
    }

    Result<Done> make(const DeliveryItem &item, const fs::path &file) const
    {
        const auto &form = m_plan.asked.forms[item.form];
        switch (form.kind) {
        case FormKind::Picture:
            return picture(item, form, file);
        case FormKind::Dng:
            return copy(item, file);
        case FormKind::Balance:
            return preset(item, file);
        case FormKind::Profile:
        case FormKind::Values:
            break;
        }
        return item.calibration ? ofCalibration(item, form, file) : probes(file);
    }

private:
    Result<Done> picture(const DeliveryItem &item, const DeliveryForm &form, const fs::path &file) const
    {
        RenderRequest request;
        request.settings = form.picture;
        request.folder = file.parent_path();
        request.overwrite = true;
        request.crop = item.crop;
        const auto &frame = *m_source.state().frame(item.frame);
        const auto made = renderPicture({m_source.fileOf(frame), file}, request, *item.serves, m_progress);
        if (!made)
            return made.error();
        for (const auto &remark : made->remarks)
            if (m_onRemark)
                m_onRemark(remark);
        return Done{};
    }

    Result<Done> copy(const DeliveryItem &item, const fs::path &file) const
    {
        const auto &frame = *m_source.state().frame(item.frame);
        const auto &serves = *item.serves;
        ExportRequest request;
        request.dng = {m_source.fileOf(frame), file};
        if (serves.balance)
            request.neutral = neutralOf(*serves.balance);
        return exported(serves.calibration, request);
    }

    Result<Done> preset(const DeliveryItem &item, const fs::path &file) const
    {
        const auto &frame = *m_source.state().frame(item.frame);
        const auto &serves = *item.serves;
        Balance balance;
        if (serves.balance) {
            balance = *serves.balance;
        } else {
            const auto &m = balance.multipliers = serves.calibration.multipliers;
            balance.neutral = {1 / m[0], 1 / m[1], 1 / m[2]};
            balance.source.image = item.planned.source;
            if (serves.calibration.light.cctKelvin > 0)
                balance.temperature =
                    Temperature{serves.calibration.light.cctKelvin, serves.calibration.light.duv};
        }
        balance.preset = PresetFacts{serves.calibration.name, serves.calibration.asked.setup, frame.camera,
                                     serves.calibration.fileColor.asShotNeutral};
        return writeWhole({{file, bytesOf(documentOf(balance))}});
    }

    /// A profile, a table, or the patches. Tables name each other in their notes, so they are made under
    /// their own names, and the one that is asked for is taken.
    Result<Done> ofCalibration(const DeliveryItem &item, const DeliveryForm &form, const fs::path &file) const
    {
        auto calibration = *item.calibration;
        if (!item.nameInProfile.empty())
            calibration.name = item.nameInProfile;
        const auto folder = file.parent_path() / "made";
        const auto asked = folder / fs::path(item.planned.path).filename();
        std::error_code code;
        fs::remove_all(folder, code);
        if (const auto made = madeFolder(folder); !made)
            return made;
        const auto written = exported(calibration, requestFor(item, form, asked));
        if (written)
            fs::rename(asked, file, code);
        fs::remove_all(folder, code);
        return written;
    }

    ExportRequest requestFor(const DeliveryItem &item, const DeliveryForm &form, const fs::path &file) const
    {
        ExportRequest out;
        if (form.kind == FormKind::Profile)
            out.settings = form.profile;
        switch (item.file) {
        case ProfileFile::Dcp:
            out.dcp = file;
            break;
        case ProfileFile::Icc:
            out.icc = file;
            break;
        case ProfileFile::Cube:
            out.cube = item.isTableBefore ? cubeOfTableBefore(file) : file;
            break;
        case ProfileFile::Csv:
            out.csv = file;
            break;
        case ProfileFile::Cgats:
            out.cgats = file;
            break;
        case ProfileFile::Sectors:
            out.sectors = file;
            break;
        case ProfileFile::PictureCube:
            out.pictureCube = file;
            break;
        case ProfileFile::Clf:
            out.clf = file;
            break;
        case ProfileFile::ChartDng:
            const auto &chart = *m_source.state().frame(item.chart);
            out.dng = {m_source.fileOf(chart), file};
            if (chart.balance)
                out.neutral = neutralOf(*chart.balance);
        }
        return out;
    }

    static Vector3 neutralOf(const Balance &balance)
    {
        const auto m = balance.leaned.value_or(balance.multipliers);
        return {1 / m[0], 1 / m[1], 1 / m[2]};
    }

    static Result<Done> exported(const Calibration &calibration, const ExportRequest &request)
    {
        const auto written = exportCalibration(calibration, request);
        return written ? Result<Done>(Done{}) : written.error();
    }

    Result<Done> probes(const fs::path &file) const
    {
        const auto &state = m_source.state();
        std::vector<FrameProbes> all;
        for (const auto &frame : state.frames) {
            const bool isDelivered = std::any_of(m_plan.items.begin(), m_plan.items.end(),
                                                 [&](const auto &item) { return item.frame == frame.id; });
            const auto &named = m_plan.asked.frames;
            const bool isAsked = named ? std::count(named->begin(), named->end(), frame.path) > 0
                                       : frame.part == FramePart::Product && !frame.setAside;
            if (placesOn(state, frame.id).empty() || !(isDelivered || isAsked))
                continue;
            if (m_progress.stopped())
                return unusable("{file}: stopped", {{"file", file.string()}});
            std::vector<words::Phrase> remarks;
            auto probed = probeImage(m_source.fileOf(frame), {}, m_source, remarks);
            if (!probed)
                return probed.error();
            probed->image = frame.path;
            all.push_back(std::move(*probed));
        }
        return writeWhole({{file, bytesOf(csvOf(all))}});
    }

    const PictureSource &m_source;
    const DeliveryPlan &m_plan;
    std::function<void(const words::Phrase &)> m_onRemark;
    Progress m_progress;
    double m_from = 0, m_share = 1;
    words::Phrase m_what;
};

/// What went wrong with a file under the name that it grows under, told of its own.
Error namedAfter(const Error &error, const fs::path &grown, const fs::path &file)
{
    auto phrase = error.phrase;
    for (auto &place : phrase.places)
        if (auto *name = std::get_if<std::string>(&place.value); name && *name == grown.string())
            *name = file.string();
    return error.fault == Fault::Unusable ? unusable(phrase) : internalError(phrase);
}

class Writer
{
public:
    Writer(const DeliveryPlan &plan, ReceiptBook &book, const fs::path &folder, const FolderLock &lock,
           const Maker &maker, const DeliverOptions &options)
        : m_done(plan.asked), m_book(book), m_folder(folder), m_growing(folder / kGrowing), m_lock(lock),
          m_maker(maker), m_options(options)
    {
    }

    /// Writes an item's file, or leaves it out where another file has its place or its source changed.
    Result<Done> write(const DeliveryItem &item)
    {
        if (!m_lock.isInPlace())
            return takenAway();
        const auto hash = m_maker.sourceHash(item);
        if (!hash)
            return hash.error();
        const bool isOther = !hash->empty() && *hash != item.planned.sourceSha256;
        if (isOther)
            return leftOut(item, "source-changed");
        const auto grown = grow(item);
        if (!m_lock.isInPlace())
            return takenAway();
        if (!grown)
            return grown.error();
        const auto file = m_folder / item.planned.path;
        if (const auto made = madeFolder(file.parent_path()); !made)
            return made;
        if (item.isInTheWay) {
            const auto there = sha256OfFile(file);
            const bool isTheSame = there && *there == grown->sha256;
            if (isTheSame) // another machine made it, by commandsOf()
                return m_book.set(*grown);
            if (!m_options.replaceAll && !m_options.replaced.contains(item.planned.path))
                return leftOut(item, "in-the-way");
        }
        return placeWithReceipt(item, *grown, file);
    }

    /// The whole document.
    [[nodiscard]] Result<Done> save()
    {
        if (!m_lock.isInPlace())
            return takenAway();
        m_done.receipts = m_book.all();
        return writeWhole({{m_folder / kReceipts, bytesOf(documentOf(m_done))}});
    }
    [[nodiscard]] const Delivery &done() const { return m_done; }

private:
    Result<Done> leftOut(const DeliveryItem &item, const char *why)
    {
        m_done.leftOut.push_back({why == std::string("in-the-way") ? item.planned.path : item.planned.source,
                                  why, item.planned.form});
        return Done{};
    }
    /// The receipt is written first, so that a call that is killed leaves nothing of its own without one.
    Result<Done> placeWithReceipt(const DeliveryItem &item, const DeliveryReceipt &grown,
                                  const fs::path &file)
    {
        const auto *known = m_book.of(grown.path);
        const auto before = known ? std::optional(*known) : std::nullopt;
        const bool isOurs = item.isOurs && before;
        auto receipt = grown;
        if (isOurs)
            receipt.replaces = before->sha256;
        if (const auto written = m_book.set(receipt); !written)
            return written;
        const auto from = growing(item);
        const auto placed = item.isInTheWay ? placedOver(from, file)
                            : isOurs        ? placedInstead(from, file, before->sha256)
                                            : placedAnew(from, file);
        const bool isThere = placed && *placed == Placed::There;
        const auto settled = isThere  ? (isOurs ? m_book.set(grown) : Result<Done>(Done{}))
                             : before ? m_book.set(*before)
                                      : m_book.remove(grown.path);
        if (!placed)
            return placed.error();
        if (!settled)
            return settled;
        return isThere ? settled : leftOut(item, "in-the-way");
    }
    /// Folders that were made anew in its place go again, unless another delivery is at work there by now.
    [[nodiscard]] Error takenAway() const
    {
        std::error_code code;
        if (!fs::exists(m_growing / kLock, code)) {
            fs::remove_all(m_growing, code);
            fs::remove(m_folder, code); // only while it is empty
        }
        return unusable("{folder}: was moved or removed during the delivery. Files that were written went "
                        "with it; deliver there again to continue",
                        {{"folder", m_folder.string()}});
    }
    [[nodiscard]] fs::path growing(const DeliveryItem &item) const
    {
        return m_growing / ("file" + fileNameExtension(item.planned.path));
    }
    /// Made under its own name; the receipt it will have.
    Result<DeliveryReceipt> grow(const DeliveryItem &item) const
    {
        const auto grown = growing(item);
        if (const auto made = m_maker.make(item, grown); !made)
            return namedAfter(made.error(), grown, m_folder / item.planned.path);
        const auto hash = sha256OfFile(grown);
        if (!hash)
            return hash.error();
        auto receipt = item.planned;
        std::error_code code;
        receipt.sha256 = *hash;
        receipt.bytes = fs::file_size(grown, code);
        receipt.writtenAt = now();
        return receipt;
    }

    Delivery m_done;
    ReceiptBook &m_book;
    fs::path m_folder, m_growing;
    const FolderLock &m_lock;
    const Maker &m_maker;
    const DeliverOptions &m_options;
};

/// One word of a POSIX shell on one line: a line's end in a name is made by printf.
std::string shellQuoted(const std::string &text)
{
    if (text.find('\n') != text.npos) {
        std::string octal;
        for (const char c : text)
            octal += fmt::format("\\{:03o}", uint8_t(c));
        return "\"$(printf '" + octal + "')\"";
    }
    std::string out = "'";
    for (const char c : text)
        out += c == '\'' ? std::string("'\\''") : std::string(1, c);
    return out + "'";
}

/// The options that `render` takes for them, those of the kind of file always.
std::string optionsOf(const PictureSettings &settings)
{
    std::string out;
    for (const auto &row : pictureSettings()) {
        if (row.applies && !row.applies(settings))
            continue;
        const auto text = row.text(row, settings);
        if (row.kind == Setting::Kind::Switch)
            out += text.empty() ? std::string() : fmt::format(" {}", row.flag);
        else if (row.kind == Setting::Kind::Choice || text != row.text(row, PictureSettings()))
            out += fmt::format(" {} {}", row.flag, text);
    }
    return out;
}

} // namespace

static Result<Delivery> writeAll(const PictureSource &source, const DeliveryPlan &plan,
                                 const fs::path &folder, const FolderLock &lock,
                                 const DeliverOptions &options, const Progress &progress)
{
    auto book = ReceiptBook::read(folder);
    if (!book)
        return book.error();
    if (const auto opened = book->openLog(folder); !opened)
        return opened.error();
    Maker maker(source, plan, options, progress);
    Writer writer(plan, *book, folder, lock, maker, options);
    const size_t all = plan.items.size();
    Result<Done> written = Done{};
    for (size_t i = 0; i < all && written; ++i) {
        const auto &item = plan.items[i];
        maker.beginFile(item, i);
        if (item.isDone)
            continue;
        written = progress.stopped() ? unusable("{folder}: stopped. Deliver again to continue",
                                                {{"folder", folder.string()}})
                                     : writer.write(item);
    }
    const auto saved = writer.save(); // what was written until then stays, and is known
    if (!written)
        return written.error();
    if (!saved)
        return saved.error();
    return writer.done();
}

static Result<Delivery> deliverToOneFolder(const PictureSource &source, const Delivery &asked,
                                           const fs::path &folder, const DeliverOptions &options,
                                           const Progress &progress)
{
    const auto growing = folder / kGrowing;
    if (const auto made = madeFolder(growing); !made)
        return made.error();
    Result<Delivery> out = asked;
    {
        const FolderLock lock(growing / kLock);
        if (!lock.isOpen())
            return unusable("{file}: {why}", {{"file", growing.string()}, {"why", std::strerror(errno)}});
        if (!lock.isOurs())
            return unusable("{folder}: another delivery is writing to this folder",
                            {{"folder", folder.string()}});
        const auto plan = planOneFolder(source, asked, folder, true);
        if (!plan) {
            std::error_code code;
            fs::remove_all(growing, code);
            fs::remove(folder, code); // only while it is empty
            return plan.error();
        }
        if (options.onPlan)
            options.onPlan(*plan);
        out = writeAll(source, *plan, folder, lock, options, progress);
        if (!out)
            return out;
    }
    std::error_code code;
    fs::remove_all(growing, code);
    return out;
}

/// The part of the whole's progress that one of several folders takes.
static Progress partOf(const Progress &whole, size_t number, size_t all)
{
    Progress out;
    out.cancelled = whole.cancelled;
    if (whole.report)
        out.report = [&whole, number, all](double fraction, const words::Phrase &what) {
            whole.at((double(number) + fraction) / double(all), what);
        };
    return out;
}

Result<Delivery> deliver(const PictureSource &source, const Delivery &asked, const fs::path &folder,
                         const DeliverOptions &options, const Progress &progress)
{
    const auto folders = foldersOf(source, asked, folder);
    Delivery out = asked;
    out.receipts.clear();
    out.leftOut.clear();
    for (size_t i = 0; i < folders.size(); ++i) {
        const auto &one = folders[i];
        if (one.folder.empty())
            return unusable("the form {name} has no folder, and none is given for all",
                            {{"name", one.asked.forms.front().name}});
        const auto done =
            deliverToOneFolder(source, one.asked, one.folder, options, partOf(progress, i, folders.size()));
        if (!done || folders.size() == 1)
            return done;
        for (auto receipt : done->receipts) {
            if (one.isElsewhere)
                receipt.path = (one.folder / receipt.path).string();
            out.receipts.push_back(std::move(receipt));
        }
        for (const auto &left : done->leftOut)
            if (std::find(out.leftOut.begin(), out.leftOut.end(), left) == out.leftOut.end())
                out.leftOut.push_back(left);
    }
    return out;
}

std::vector<std::string> commandsOf(const PictureSource &source, const DeliveryPlan &plan,
                                    const fs::path &planFile, const fs::path &program)
{
    std::vector<std::string> out;
    const auto full = [](const fs::path &path) {
        std::error_code code;
        return shellQuoted(fs::absolute(path, code).lexically_normal().string());
    };
    for (const auto &item : plan.items) {
        const auto &form = plan.asked.forms[item.form];
        if (form.kind != FormKind::Picture || item.isDone)
            continue;
        const auto file = item.folder / item.planned.path;
        auto command =
            fmt::format("{} render {} --job {}", full(program),
                        full(source.fileOf(*source.state().frame(item.frame))), full(source.folder()));
        command += form.colour == FormColour{}
                       ? optionsOf(form.picture)
                       : " --plan " + full(planFile) + " --form " + shellQuoted(form.name);
        if (item.crop)
            command += " --crop " + cropText(*item.crop);
        out.push_back(command + " --name " + shellQuoted(file.stem().string()) + " -o " +
                      full(file.parent_path()));
    }
    return out;
}

} // namespace wavechroma
