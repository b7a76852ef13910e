#include "core/facts/strike.h"

#include "core/formats/tolerance_sheet.h"
#include "core/raw/file_extent.h"
#include "core/tasks/probe_task.h"

#include <algorithm>
#include <map>
#include <set>
#include <system_error>
#include <unistd.h>

namespace wavechroma {

namespace fs = std::filesystem;

namespace {

std::string pairOf(const CameraFacts &camera)
{
    return camera.lens.empty() ? camera.model : camera.model + ", " + camera.lens;
}

class SetupCard
{
public:
    SetupCard(const Job &job, RowId setup) : m_job(job), m_state(job.rows()), m_sheet(sheetOf(m_state))
    {
        m_out.setup = setup;
        for (const auto &row : m_state.setups)
            if (row.id == setup)
                m_out.title = row.title;
        for (const auto *station : job.stations().all())
            if (station->setup == setup && !station->frames.empty())
                m_stations.push_back(station);
    }

    StrikeCard made()
    {
        if (m_stations.empty()) {
            StrikeItem none;
            none.isMissing = true;
            m_out.items.push_back(none);
            return m_out;
        }
        findTimes();
        for (const auto *station : m_stations)
            addChart(*station);
        for (const auto *station : m_stations)
            addLight(*station);
        addProducts();
        for (const auto *station : m_stations)
            addFlat(*station);
        addTargets();
        addFiles();
        return m_out;
    }

private:
    std::vector<const JobFrame *> framesOf(const Station &station, FramePart part) const
    {
        std::vector<const JobFrame *> out;
        for (const auto id : station.frames)
            if (const auto *row = m_state.frame(id); row->part == part && !row->setAside)
                out.push_back(row);
        return out;
    }

    void findTimes()
    {
        CaptureClock clock;
        std::vector<std::string> times;
        for (const auto *station : m_stations)
            for (const auto id : station->frames) {
                times.push_back(m_state.frame(id)->camera.capturedAt);
                clock.add(times.back());
            }
        const auto isBefore = [&](const auto &a, const auto &b) { return clock.isBefore(a, b); };
        m_out.from = *std::min_element(times.begin(), times.end(), isBefore);
        m_out.to = *std::max_element(times.begin(), times.end(), isBefore);
    }

    void addChart(const Station &station)
    {
        using enum Answer::State;
        const bool isAsked =
            !framesOf(station, FramePart::Product).empty() || station.answer.state != Answer::State::None;
        if (!isAsked)
            return; // flats alone ask for no chart
        StrikeItem item;
        item.pair = pairOf(station.camera);
        item.answer = station.answer;
        item.isMissing = station.answer.state == None || station.answer.state == ShootAgain ||
                         station.answer.why == Answer::Why::WhiteAlone;
        for (const auto id : station.speaking)
            item.times.push_back(m_state.frame(id)->camera.capturedAt);
        m_out.items.push_back(item);
    }

    /// The light moved: by what stands in the pictures since the chart of the last product frame, or from
    /// chart to chart; missing while no chart was shot after that frame.
    void addLight(const Station &station)
    {
        const auto products = framesOf(station, FramePart::Product);
        if (products.empty() || station.speaking.empty())
            return;
        const auto &last = *products.back();
        const auto &lastChart = *m_state.frame(station.speaking.back());
        CaptureClock clock;
        clock.add(last.camera.capturedAt);
        clock.add(lastChart.camera.capturedAt);
        const bool isChartAfter = clock.isBefore(last.camera.capturedAt, lastChart.camera.capturedAt);
        StrikeItem item;
        item.id = StrikeItem::Id::Light;
        item.pair = pairOf(station.camera);
        const auto &serving = m_job.serving(last.id);
        if (!isChartAfter && serving.drift && serving.drift->change.visible.any()) {
            item.change = serving.drift->change;
            item.times = {m_state.frame(serving.chart)->camera.capturedAt, last.camera.capturedAt};
            item.isMissing = true;
        } else if (!station.changes.empty() && station.changes.back()) {
            item.change = station.changes.back();
            item.times = {m_state.frame(station.speaking[station.speaking.size() - 2])->camera.capturedAt,
                          lastChart.camera.capturedAt};
            item.isMissing = !isChartAfter;
        } else {
            return;
        }
        m_out.items.push_back(item);
    }

    void addProducts()
    {
        StrikeItem item;
        item.id = StrikeItem::Id::Products;
        std::set<std::string> codes;
        for (const auto *station : m_stations)
            for (const auto *row : framesOf(*station, FramePart::Product)) {
                const auto &serving = m_job.serving(row->id);
                ++item.of;
                item.unserved += !serving.isServed();
                item.count += serving.isServed() && serving.doubts.empty();
                if (!serving.isServed() || !serving.doubts.empty())
                    item.names.push_back(fs::path(row->path).filename().string());
                for (const auto &doubt : serving.doubts)
                    if (codes.insert(doubt.code).second)
                        item.doubts.push_back(doubt);
            }
        item.isMissing = item.count < item.of;
        if (item.of > 0)
            m_out.items.push_back(item);
    }

    [[nodiscard]] bool isCopyWork() const
    {
        static const auto kStrict = shippedSheet("strict");
        return m_state.title.intendedPpi > 0 ||
               (kStrict && m_sheet.capture.unevenness <= kStrict->capture.unevenness);
    }
    void addFlat(const Station &station)
    {
        const auto flats = framesOf(station, FramePart::Flat);
        const auto &warning = station.answer.warning;
        const bool isUneven = warning && warning->id == CheckId::Evenness;
        if (!isCopyWork() && !isUneven && flats.empty())
            return;
        StrikeItem item;
        item.id = StrikeItem::Id::Flat;
        item.pair = pairOf(station.camera);
        item.isMissing = flats.empty();
        for (const auto *row : flats)
            item.times.push_back(row->camera.capturedAt);
        m_out.items.push_back(item);
    }

    void addTargets()
    {
        std::set<RowId> here;
        for (const auto *station : m_stations)
            here.insert(station->frames.begin(), station->frames.end());
        std::set<std::string> seen;
        for (const auto &probe : m_state.probes)
            if (here.contains(probe.frame))
                seen.insert(probe.place.name);
        StrikeItem item;
        item.id = StrikeItem::Id::Targets;
        for (const auto &row : m_state.targets) {
            ++item.of;
            item.count += seen.contains(row.target.name);
            if (!seen.contains(row.target.name))
                item.names.push_back(row.target.name);
        }
        item.isMissing = item.count < item.of;
        item.isAwaited = item.count > 0;
        if (item.of > 0)
            m_out.items.push_back(item);
    }

    void addFiles()
    {
        StrikeItem item;
        item.id = StrikeItem::Id::Files;
        item.isAwaited = true;
        for (const auto *station : m_stations)
            item.of += int(station->frames.size());
        m_out.items.push_back(item);
    }

    const Job &m_job;
    const JobState &m_state;
    ToleranceSheet m_sheet;
    std::vector<const Station *> m_stations;
    StrikeCard m_out;
};

/// Looks at the files of a setup's frames, one by one.
class FilesOfSetup
{
public:
    FilesOfSetup(const Job &job, RowId setup, const Progress &progress)
        : m_job(job), m_source(PictureSource::of(job)), m_progress(progress)
    {
        for (const auto &row : job.rows().frames)
            if (row.setup == setup)
                m_frames.push_back(&row);
    }

    bool look()
    {
        for (size_t i = 0; i < m_frames.size(); ++i) {
            if (m_progress.stopped())
                return false;
            m_progress.at(double(i) / double(m_frames.size()), "looking at the files");
            look(*m_frames[i]);
        }
        return true;
    }

    void addTo(StrikeItem &item) const
    {
        item.isAwaited = false;
        if (item.id == StrikeItem::Id::Files) {
            item.of = int(m_frames.size());
            item.count = item.of - int(m_spoilt.size());
            item.names = m_spoilt;
            item.isMissing = !m_spoilt.empty();
        } else if (item.id == StrikeItem::Id::Targets) {
            for (const auto &[name, probe] : m_worst)
                if (!probe.within.value_or(true))
                    item.over.push_back(probe);
            item.unjudged = std::max(0, item.count - int(m_worst.size()));
            item.isMissing = item.isMissing || !item.over.empty() || item.unjudged > 0;
        }
    }

private:
    void look(const JobFrame &row)
    {
        const auto file = m_job.fileOf(row);
        if (access(file.c_str(), R_OK) != 0 || extentOf(file) == Extent::Short) {
            m_spoilt.push_back(row.path);
            return;
        }
        if (row.setAside || placesOn(m_job.rows(), row.id).empty())
            return;
        std::vector<words::Phrase> remarks;
        const auto probes = probeImage(file, {}, m_source, remarks);
        if (!probes) {
            m_spoilt.push_back(row.path);
            return;
        }
        for (const auto &probe : probes->probes)
            if (probe.within)
                if (const auto [at, isNew] = m_worst.try_emplace(probe.place.name, probe);
                    !isNew && probe.de00 > at->second.de00)
                    at->second = probe;
    }

    const Job &m_job;
    PictureSource m_source;
    const Progress &m_progress;
    std::vector<const JobFrame *> m_frames;
    std::vector<std::string> m_spoilt;
    std::map<std::string, Probe> m_worst; ///< of each name
};

} // namespace

StrikeCard withFiles(StrikeCard card, const Job &job, const Progress &progress)
{
    FilesOfSetup files(job, card.setup, progress);
    if (!files.look())
        return card;
    for (auto &item : card.items)
        if (item.isAwaited)
            files.addTo(item);
    return card;
}

StrikeCard strikeCard(const Job &job, RowId setup)
{
    return SetupCard(job, setup).made();
}

RowId newestSetup(const Job &job)
{
    CaptureClock clock;
    for (const auto &row : job.rows().frames)
        clock.add(row.camera.capturedAt);
    const JobFrame *newest = nullptr;
    for (const auto &row : job.rows().frames)
        if (!newest || clock.isBefore(newest->camera.capturedAt, row.camera.capturedAt))
            newest = &row;
    return newest ? newest->setup : 0;
}

} // namespace wavechroma
