#include "core/tasks/record_task.h"

#include "core/fit/fit.h"
#include "core/formats/delivery_document.h"
#include "core/formats/whole_file.h"
#include "core/proof/proof.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "core/tasks/agree_task.h"
#include "core/tasks/colour_sides.h"
#include "core/tasks/drift_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"
#include "core/tasks/place_task.h"
#include "core/tasks/probe_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/receipt_book.h"
#include "core/tasks/reference_task.h"
#include "core/tasks/serve_task.h"
#include "core/words/check_words.h"

#include <algorithm>
#include <set>
#include <system_error>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

/// The chart of a reading sampled where it was placed, evened as it was.
Result<Reading> sampledAgain(const RawFrame &frame, const fs::path &folder, const Reading &stored,
                             const ToleranceSheet &sheet)
{
    std::vector<fs::path> flats;
    for (const auto &flat : stored.flats)
        flats.push_back(folder / flat);
    const auto even = flats.empty() ? Result<RawFrame>(frame) : withFlats(frame, flats);
    if (!even)
        return even.error();
    auto out = movedReading(stored, *even, stored.corners, stored.windowShare, sheet);
    if (out)
        out->placedBy = stored.placedBy;
    return out;
}

/// As its own finder found it; nothing where another one placed it.
std::optional<Reading> foundAgainAsGrey(const JobState &state, const fs::path &folder, const JobFrame &row,
                                        const Reading &stored)
{
    const auto pass = whitePass(state, folder / row.path, row);
    if (row.part != FramePart::Grey || !pass || pass->reading.chart != stored.chart ||
        pass->reading.corners != stored.corners)
        return {};
    return pass->reading;
}

/// The frame of a stored reading read again, as it was read then: what the search finds is found again, what
/// a hand placed is sampled there.
Result<Reading> readAgain(const JobState &state, const fs::path &folder, const JobFrame &row,
                          const Reading &stored)
{
    const auto frame = openFrame(folder / row.path);
    if (!frame)
        return frame.error();
    const auto job = surroundingsOf(state, folder, row.setup);
    const bool isSearched =
        stored.placedBy == PlacedBy::Search && stored.windowShare == ReadRequest().windowShare;
    auto reading = isSearched && row.part != FramePart::Grey
                       ? readWithFlats(job, *frame, stored.flats)
                       : sampledAgain(*frame, folder, stored, job.sheet);
    if (row.part == FramePart::Grey)
        if (auto grey = foundAgainAsGrey(state, folder, row, stored))
            reading = std::move(*grey);
    if (!reading)
        return reading.error();
    reading->image = stored.image;
    if (!stored.leftOut.empty())
        reading = readingWithout(*reading, *frame, stored.leftOut, job.sheet);
    const auto whole = stillWhole(*frame);
    return whole ? reading : Result<Reading>(whole.error());
}

RecordFigures figuresOf(const Calibration &calibration, const Reading &reading, const ChartDefinition &chart,
                        const Proof &proof)
{
    RecordFigures out;
    out.unseenMean = calibration.crossValidated.mean;
    out.fitMean = calibration.fit.mean;
    out.worst = proof.summary.max;
    out.worstPatch = proof.worst;
    for (const auto &patch : proof.patches)
        if (!patch.clipped && std::count(chart.neutral.begin(), chart.neutral.end(), patch.id))
            out.neutralMax = std::max(out.neutralMax, patch.de00);
    if (const auto errors =
            errorsOn(sideOf(calibration, reading, chart), reading, chartAsMeant(calibration, chart)))
        out.interval = errors->interval;
    return out;
}

std::vector<RecordRequirement> requirementsOf(const Proof &proof, const Reading &reading,
                                              const ProofLimits &limits)
{
    std::vector<RecordRequirement> out;
    for (const auto &held : heldTo(limits, proof)) {
        const bool isAlways = held.measure == DifferenceMeasure::De2000;
        const auto *unit = rowOf(held.measure).unit;
        if (isAlways || held.limits.mean > 0)
            out.push_back({"mean", held.limits.mean, held.mean, unit, held.meanHolds()});
        if (isAlways || held.limits.patch > 0)
            out.push_back({"patch", held.limits.patch, held.worst, unit, held.patchHolds()});
    }
    for (const auto &check : reading.checks) {
        const bool isFine = check.severity == Severity::Ok;
        out.push_back({nameOf(check.id), check.limit, check.value, check.unit,
                       check.severity != Severity::Stop, isFine ? "" : words::message(check)});
    }
    return out;
}

/// The stations of a job as a record has them.
class StationRecords
{
public:
    StationRecords(const PictureSource &source, const RecordRequest &request, JobRecord &to)
        : m_source(source), m_state(source.state()), m_request(request), m_to(to)
    {
    }

    Result<RecordStation> of(const Station &station)
    {
        RecordStation out;
        out.name = station.name;
        out.camera = station.camera;
        for (const auto &setup : m_state.setups)
            if (setup.id == station.setup)
                out.setup = setup;
        for (const auto id : station.frames)
            out.frames.push_back(frameOf(*m_state.frame(id)));
        const auto *row = m_state.frame(station.answer.frame);
        if (!row) {
            out.why = "no-chart";
            return out;
        }
        if (const auto filled = fill(out, station, *row); !filled)
            return filled.error();
        return out;
    }

private:
    RecordFrame frameOf(const JobFrame &row)
    {
        RecordFrame out{row.path, row.sha256, row.part, row.setAside};
        if (m_request.fromFrames) {
            const auto now = sha256OfFile(m_source.fileOf(row));
            out.sha256 = now ? *now : "";
            if (!now)
                m_to.unread.push_back(row.path);
        }
        return out;
    }

    std::optional<Reading> readingOf(const JobFrame &row)
    {
        const auto *kept = m_state.readingOf(row.id);
        if (!kept || kept->reading.fault() || !kept->reading->found)
            return {};
        if (!m_request.fromFrames)
            return *kept->reading;
        auto again = readAgain(m_state, m_source.folder(), row, *kept->reading);
        return again ? std::optional(*again) : std::nullopt;
    }

    Result<std::optional<Calibration>> calibrationOf(const JobFrame &row, const Reading &reading)
    {
        const auto *kept = m_state.calibrationOf(row.id, partsFor(m_state, row.id));
        if (!kept)
            return std::optional<Calibration>();
        if (const auto fault = kept->calibration.fault())
            return *fault;
        if (!m_request.fromFrames)
            return std::optional(*kept->calibration);
        auto request = requestFor(m_state, row.id);
        request.ask.parts = kept->calibration->parts;
        auto made = fitReading(reading, request);
        if (!made)
            return made.error();
        made->asked.parts = kept->calibration->asked.parts;
        return std::optional(*made);
    }

    Result<Done> fill(RecordStation &out, const Station &station, const JobFrame &row)
    {
        out.reading = readingOf(row);
        if (!out.reading) {
            out.why = "no-chart";
            return Done{};
        }
        const auto calibration = calibrationOf(row, *out.reading);
        if (!calibration)
            return calibration.error();
        out.calibration = *calibration;
        const auto chart =
            referencesOf(*out.reading, out.calibration ? out.calibration->asked.reference : std::string());
        if (!chart || !out.calibration || saysWhiteAlone(*chart)) {
            out.why = "white-alone";
            return Done{};
        }
        out.chart = *chart;
        const auto proof = prove(*out.calibration, *out.reading, *chart);
        if (!proof)
            return proof.error();
        out.proof = *proof;
        out.figures = figuresOf(*out.calibration, *out.reading, *chart, *proof);
        out.requirements = requirementsOf(*proof, *out.reading, m_to.sheet.proof);
        addDrift(out, station, row);
        return Done{};
    }

    /// What was shot of the chart after that one.
    void addDrift(RecordStation &out, const Station &station, const JobFrame &own)
    {
        for (const auto id : driftFrames(m_state, station, own.id)) {
            const auto reading = readingOf(*m_state.frame(id));
            if (!reading || reading->chart != out.reading->chart)
                continue;
            if (auto check = driftOfReading(*out.calibration, *reading, m_to.sheet.proof,
                                            out.calibration->asked.reference))
                out.drift.push_back(std::move(*check));
        }
    }

    const PictureSource &m_source;
    const JobState &m_state;
    const RecordRequest &m_request;
    JobRecord &m_to;
};

bool isWanted(const RecordRequest &request, const std::string &station)
{
    return request.stations.empty() ||
           std::count(request.stations.begin(), request.stations.end(), station) > 0;
}

Result<Done> checkNames(const RecordRequest &request, const Stations &stations)
{
    std::string known;
    std::set<std::string> names;
    for (const auto *station : stations.all())
        if (names.insert(station->name).second)
            known += (known.empty() ? "" : "; ") + station->name;
    for (const auto &name : request.stations)
        if (!names.contains(name))
            return unusable("--station: the job has no station \"{name}\"; it has {known}",
                            {{"name", name}, {"known", known}});
    return Done{};
}

/// Probes of the job's product frames, frame by frame.
Result<Done> addObjects(JobRecord &to, const PictureSource &source, const RecordRequest &request,
                        const Progress &progress)
{
    const auto &state = source.state();
    for (size_t i = 0; i < state.frames.size(); ++i) {
        const auto &row = state.frames[i];
        progress.at(double(i) / double(state.frames.size()), {"probing {file}", {{"file", row.path}}});
        if (progress.stopped())
            return unusable("{job}: stopped", {{"job", source.folder().string()}});
        const auto *station = source.job().stations().of(row.id);
        if (row.setAside || !station || !isWanted(request, station->name) || placesOn(state, row.id).empty())
            continue;
        ProbeRequest asked;
        std::vector<words::Phrase> remarks;
        auto probes = probeImage(source.fileOf(row), asked, source, remarks);
        if (!probes) {
            to.unread.push_back(row.path);
            continue;
        }
        for (auto &probe : probes->probes)
            to.objects.push_back({row.path, std::move(probe), source.job().serving(row.id).doubts});
    }
    return Done{};
}

/// Folders in which the job's deliveries may have left receipts.
std::vector<fs::path> deliveryFolders(const PictureSource &source, const RecordRequest &request)
{
    auto out = request.deliveries;
    std::error_code code;
    for (fs::directory_iterator at(source.folder() / "handover", code), end; !code && at != end;
         at.increment(code))
        if (at->is_directory(code))
            out.push_back(at->path());
    for (const auto &row : source.state().deliveries)
        if (const auto plan = deliveryFrom(row.plan, row.title))
            for (const auto &form : plan->forms)
                if (!form.folder.empty())
                    out.push_back(source.folder() / form.folder);
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

Result<Done> addDeliveries(JobRecord &to, const PictureSource &source, const RecordRequest &request)
{
    for (const auto &folder : deliveryFolders(source, request)) {
        const auto book = ReceiptBook::read(folder);
        if (!book)
            return book.error();
        for (auto receipt : book->all()) {
            receipt.path = keptPath(source.folder(), folder / receipt.path);
            to.deliveries.push_back(std::move(receipt));
        }
    }
    return Done{};
}

} // namespace

Result<JobRecord> recordOf(const PictureSource &source, const RecordRequest &request,
                           const Progress &progress)
{
    const auto &stations = source.job().stations();
    if (const auto known = checkNames(request, stations); !known)
        return known.error();
    JobRecord out;
    out.title = source.state().title.text;
    out.madeAt = request.madeAt;
    out.madeWith = "Wavechroma " WAVECHROMA_VERSION;
    out.sheet = sheetOf(source.state());
    StationRecords records(source, request, out);
    const auto &all = stations.all();
    for (size_t i = 0; i < all.size(); ++i) {
        progress.at(0.5 * double(i) / double(all.size()), {"{station}", {{"station", all[i]->name}}});
        if (progress.stopped())
            return unusable("{job}: stopped", {{"job", source.folder().string()}});
        if (all[i]->frames.empty() || !isWanted(request, all[i]->name))
            continue;
        auto station = records.of(*all[i]);
        if (!station)
            return station.error();
        out.stations.push_back(std::move(*station));
    }
    if (const auto added = addObjects(out, source, request, progress.part(0.5, 0.8)); !added)
        return added.error();
    // of fewer than two stations there is none
    if (auto agreed = agreementOf(source, {source.folder()}, progress.part(0.8, 1)))
        out.agreement = std::move(agreed->agreement);
    if (const auto added = addDeliveries(out, source, request); !added)
        return added.error();
    std::sort(out.unread.begin(), out.unread.end());
    out.unread.erase(std::unique(out.unread.begin(), out.unread.end()), out.unread.end());
    return out;
}

/// Delivered files as they lie there now, beside their receipts.
static void addDelivered(std::vector<RecordDifference> &to, const std::vector<DeliveryReceipt> &receipts,
                         const fs::path &job)
{
    for (size_t i = 0; i < receipts.size(); ++i) {
        const auto &receipt = receipts[i];
        const auto now = sha256OfFile(job / receipt.path);
        if (!now || *now != receipt.sha256)
            to.push_back({"deliveries[" + std::to_string(i) + "]." + receipt.path, receipt.sha256,
                          now ? *now : std::string("–")});
    }
}

Result<std::vector<RecordDifference>> verified(const fs::path &record, const fs::path &job,
                                               const Progress &progress)
{
    const auto text = readText(record);
    if (!text)
        return text.error();
    RecordRequest request;
    request.fromFrames = true;
    auto receipts = recordDeliveries(*text, record.string());
    auto names = recordStations(*text, record.string());
    if (!receipts || !names)
        return receipts ? names.error() : receipts.error();
    const auto source = PictureSource::open({{}, job, {}, {}});
    if (!source)
        return source.error();
    std::vector<RecordDifference> gone;
    for (const auto &name : *names) {
        const auto &all = source->job().stations().all();
        if (std::any_of(all.begin(), all.end(), [&](const auto *s) { return s->name == name; }))
            request.stations.push_back(name);
        else
            gone.push_back({"stations." + name, name, "–"});
    }
    auto again = recordOf(*source, request, progress);
    if (!again)
        return again.error();
    again->deliveries = *receipts; // what was delivered since is no difference
    auto out = recordDifferences(*text, documentOf(*again), record.string());
    if (!out)
        return out.error();
    addDelivered(*out, *receipts, job);
    out->insert(out->end(), gone.begin(), gone.end());
    return out;
}

} // namespace wavechroma
