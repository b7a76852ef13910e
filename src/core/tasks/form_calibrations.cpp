#include "core/tasks/form_calibrations.h"

#include "core/fit/sector_lean.h"
#include "core/formats/names.h"
#include "core/tasks/balance_task.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/job_task.h"

namespace wavechroma {

namespace {

/// Without a reading no part can be fitted, but a lean is laid over whatever was.
Result<Calibration> leanedOver(const Calibration &own, const Parts &parts, ColourLean lean,
                               const std::vector<HueSector> &sectors)
{
    if (!(parts == own.parts))
        return unusable("{name}: has no reading here, so it cannot be fitted with other parts",
                        {{"name", own.name}});
    if (!sectors.empty()) {
        const auto wanted = sectorLeanFor(own, sectors);
        if (!wanted)
            return wanted.error();
        lean.sectors = *wanted;
    }
    auto out = own;
    out.lean = out.asked.lean = lean;
    for (auto &light : out.lights)
        light.lean = lean;
    if (out.asked.name.empty() && out.lights.empty())
        out.name = composedName(out, out.asked.setup);
    return out;
}

} // namespace

Result<Calibration> FormCalibrations::of(const FormColour &form, const Calibration &own, RowId chart)
{
    const auto parts = form.parts(own.parts);
    const auto lean = form.lean(own.lean);
    if (!form.fitsAnew() || (parts == own.parts && lean == own.lean))
        return own;
    const auto sectors = sectorsOf(form);
    if (!sectors)
        return sectors.error();
    if (!m_source.state().readingOf(chart))
        return leanedOver(own, parts, lean, *sectors);
    const std::tuple key{chart, parts, lean.reds, lean.chroma, lean.contrast, form.sectors};
    auto known = m_fitted.find(key);
    if (known == m_fitted.end())
        known = m_fitted.emplace(key, fitted(chart, parts, lean, *sectors)).first;
    return known->second;
}

Result<Calibration> FormCalibrations::fitted(RowId chart, const Parts &parts, const ColourLean &lean,
                                             const std::vector<HueSector> &sectors) const
{
    const auto &state = m_source.state();
    const auto *row = state.calibrationOf(chart, parts);
    if (row && sectors.empty() && !row->calibration.fault() && (*row->calibration).lean == lean)
        return *row->calibration;
    const auto *reading = state.readingOf(chart);
    if (reading->reading.fault())
        return *reading->reading.fault();
    auto asked = requestFor(state, chart);
    asked.ask.parts = parts;
    asked.ask.lean = lean;
    asked.ask.name.clear(); // which would be that of the job's own
    asked.sectors = sectors;
    return fitReadings({*reading->reading}, asked);
}

Result<std::vector<HueSector>> FormCalibrations::sectorsOf(const FormColour &form)
{
    if (form.sectors.empty())
        return std::vector<HueSector>();
    auto known = m_sectors.find(form.sectors);
    if (known == m_sectors.end())
        known = m_sectors.emplace(form.sectors, loadSectors(m_source.folder() / form.sectors)).first;
    return known->second;
}

Result<Done> FormCalibrations::filesAreReadable(const FormColour &form)
{
    if (const auto preset = balanceOf(form); !preset)
        return preset.error();
    const auto sectors = sectorsOf(form);
    return sectors ? Result<Done>(Done{}) : sectors.error();
}

Result<Calibration> FormCalibrations::of(const FormColour &form, const ProfileSource &profile)
{
    return calibrationOf(m_source, profile,
                         [&](const Calibration &own, RowId chart) { return of(form, own, chart); });
}

std::shared_ptr<const PictureServes> FormCalibrations::serves(const FormColour &form, const JobFrame &frame,
                                                              const PictureServes &serves)
{
    auto out = serves;
    if (form.fitsAnew()) {
        const auto calibration = of(form, serves.calibration, serves.brought ? 0 : serves.chart);
        if (!calibration)
            return nullptr;
        out = pictureServes(m_source.job(), frame, *calibration);
    }
    if (auto balance = balanceOf(form); balance && *balance)
        out.balance = std::move(**balance);
    return std::make_shared<const PictureServes>(std::move(out));
}

Result<std::optional<Balance>> FormCalibrations::balanceOf(const FormColour &form)
{
    if (form.multipliers) {
        const auto &m = *form.multipliers;
        Balance out;
        out.multipliers = {m[0] / m[1], 1, m[2] / m[1]};
        out.neutral = {m[1] / m[0], 1, m[1] / m[2]};
        return std::optional(out);
    }
    if (form.balance.empty())
        return std::optional<Balance>();
    auto known = m_balances.find(form.balance);
    if (known == m_balances.end())
        known = m_balances.emplace(form.balance, loadBalance(m_source.folder() / form.balance)).first;
    const auto &preset = known->second;
    return preset ? Result<std::optional<Balance>>(*preset) : preset.error();
}

bool FormCalibrations::isPresetOfAnother(const FormColour &form, const CameraFacts &frame)
{
    const auto balance = balanceOf(form);
    return balance && *balance && (*balance)->preset && verdictOn(*(*balance)->preset, frame).refuses();
}

} // namespace wavechroma
