#include "core/formats/drift_document.h"

#include "core/formats/check_json.h"
#include "core/formats/json_fields.h"

namespace wavechroma {

using namespace json;

static Json jsonOf(const DriftReason &reason)
{
    const auto &row = kDriftCauses[size_t(reason.cause)];
    Json out{{"cause", row.id}, {"amount", reason.amount}, {"unit", row.unit}, {"explains", reason.explains}};
    if (!reason.patches.empty())
        out["patches"] = reason.patches;
    if (reason.side != Side::None)
        out["side"] = sideName(reason.side);
    return out;
}

static Json jsonOf(const DriftCheck &check)
{
    Json causes = Json::array();
    for (const auto &cause : check.causes)
        causes.push_back(jsonOf(cause));
    return {
        {"image", check.image},
        {"captured_at", check.capturedAt},
        {"mean", check.mean},
        {"max", check.max},
        {"worst", check.worst},
        {"was", check.was},
        {"passes", check.passes},
        {"level_stops", check.levelStops},
        {"light", check.light ? Json{{"d_mired", check.light->mired}, {"d_duv", check.light->duv}} : Json()},
        {"causes", causes},
        {"advice", kDriftAdvice[size_t(check.advice)]}};
}

std::string documentOf(const Drift &drift)
{
    Json checks = Json::array();
    for (const auto &check : drift.checks)
        checks.push_back(jsonOf(check));
    return textOf({{"schema", "wavechroma.drift/1"}, {"calibration", drift.calibration}, {"checks", checks}});
}

} // namespace wavechroma
