#include "core/facts/comparable.h"

#include "core/fit/fit.h"
#include "core/tasks/compare_task.h"
#include "core/tasks/reference_task.h"

#include <algorithm>

namespace wavechroma {

namespace {

struct Seen
{
    Reading reading;
    ChartDefinition chart;
};

Result<Seen> seenOn(const Job &job, RowId frame)
{
    const auto *row = job.rows().readingOf(frame);
    if (!row || row->reading.fault() || !row->reading->found)
        return unusable("This frame has no chart that could be compared by");
    const auto *made = job.rows().calibrationOf(frame, partsFor(job.rows(), frame));
    const auto chart =
        referencesOf(*row->reading,
                     made && !made->calibration.fault() ? made->calibration->asked.reference : std::string());
    if (!chart)
        return chart.error();
    if (!chart->colorsKnown)
        return unusable("The colours of the {chart} are not known", {{"chart", chart->name}});
    return Seen{*row->reading,
                made && !made->calibration.fault() ? chartAsMeant(*made->calibration, *chart) : *chart};
}

class Comparables
{
public:
    Comparables(const Job &job, RowId frame) : m_job(job), m_state(job.rows()), m_frame(frame) {}

    std::vector<Comparable> all()
    {
        const auto own = partsFor(m_state, m_frame);
        if (const auto *row = m_state.calibrationOf(m_frame, own))
            add(*row);
        m_out.push_back({"", nullptr, 0});
        for (const auto &row : m_state.calibrations)
            if (row.frame == m_frame && !(row.brief.parts == own))
                add(row);
        const auto *here = m_job.stations().of(m_frame);
        for (const bool isSamePair : {true, false})
            for (const auto *station : m_job.stations().all())
                if (here && samePair(station->camera, here->camera) == isSamePair)
                    for (const auto chart : station->speaking)
                        if (const auto *row = m_state.calibrationOf(chart, partsFor(m_state, chart));
                            row && chart != m_frame)
                            add(*row);
        for (const auto &row : m_state.calibrations)
            if (row.frame == 0)
                add(row);
        return std::move(m_out);
    }

private:
    void add(const JobCalibration &row)
    {
        if (row.calibration.fault())
            return;
        m_out.push_back(
            {row.calibration->name, std::make_shared<const Calibration>(*row.calibration), row.frame});
    }

    const Job &m_job;
    const JobState &m_state;
    RowId m_frame;
    std::vector<Comparable> m_out;
};

} // namespace

std::vector<Comparable> comparablesOf(const Job &job, RowId chartFrame)
{
    return Comparables(job, chartFrame).all();
}

Result<ColourSide> sideOn(const Job &job, RowId chartFrame, const Comparable &one)
{
    const auto seen = seenOn(job, chartFrame);
    if (!seen)
        return seen.error();
    return one.calibration ? sideOf(*one.calibration, seen->reading, seen->chart)
                           : plainSide(viewOf(seen->reading, seen->chart));
}

Result<ColourSide> sideOn(const Job &job, RowId chartFrame, const std::string &file)
{
    const auto seen = seenOn(job, chartFrame);
    return seen ? sideOfFile(file, seen->reading, seen->chart) : Result<ColourSide>(seen.error());
}

Result<Comparison> compareOn(const Job &job, RowId chartFrame, const ColourSide &a, const ColourSide &b,
                             DifferenceMeasure measure, const std::vector<std::string> &group)
{
    const auto seen = seenOn(job, chartFrame);
    if (!seen)
        return seen.error();
    auto out =
        compared(a, b, viewOf(seen->reading, seen->chart), {measure, &seen->reading, &seen->chart, group});
    const auto sheet = sheetOf(job.rows());
    out.limits = ComparedLimits{sheet.title, sheet.proof.in(measure)};
    return out;
}

} // namespace wavechroma
