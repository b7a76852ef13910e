#include "core/formats/comparison_document.h"

#include "core/formats/json_fields.h"

namespace wavechroma {

using namespace json;

namespace {

Json jsonOf(const ComparedSide &side)
{
    return {{"file", side.file}, {"kind", side.kind}, {"name", side.name}};
}

Json jsonOf(const Interval &interval)
{
    return Json::array({interval.low, interval.high});
}

Json jsonOf(const SideErrors &errors)
{
    return {{"mean", errors.mean},
            {"p95", errors.p95},
            {"max", errors.max},
            {"interval", jsonOf(errors.interval)},
            {"unseen", errors.isUnseen}};
}

Json jsonOf(const ErrorsCompared &errors)
{
    constexpr const char *kBetter[] = {"neither", "a", "b"};
    return {{"a", jsonOf(errors.a)},
            {"b", jsonOf(errors.b)},
            {"b_less_a", {{"mean", errors.difference}, {"interval", jsonOf(errors.interval)}}},
            {"better", kBetter[size_t(errors.better)]}};
}

Json jsonOf(const MeanShift &shift)
{
    return {{"n", shift.count}, {"dL", shift.dL}, {"dC", shift.dC}, {"dh_deg", shift.dh}};
}

Json jsonOf(const ComparedPatch &patch)
{
    return {{"id", patch.id},
            {"lab_a", arrayOf(patch.a)},
            {"lab_b", arrayOf(patch.b)},
            {"between", patch.between},
            {"error_a", patch.errorA ? Json(*patch.errorA) : Json()},
            {"error_b", patch.errorB ? Json(*patch.errorB) : Json()}};
}

/// The mean shift of the tone scale, and the scale itself.
Json greysOf(const std::vector<GreyShift> &greys)
{
    GreyShift sum;
    Json scale = Json::array();
    for (const auto &g : greys) {
        sum.dL += g.dL;
        sum.da += g.da;
        sum.db += g.db;
        scale.push_back({{"L", g.l}, {"dL", g.dL}, {"da", g.da}, {"db", g.db}});
    }
    const double n = std::max<double>(1, double(greys.size()));
    return {
        {"n", greys.size()}, {"dL", sum.dL / n}, {"da", sum.da / n}, {"db", sum.db / n}, {"scale", scale}};
}

Json jsonOf(const GroupCompared &group)
{
    auto out = jsonOf(group.shift);
    out["patches"] = group.patches;
    out["errors"] = group.errors ? jsonOf(*group.errors) : Json();
    return out;
}

/// Limits that are not set are null, and so are verdicts without errors.
Json limitsOf(const Comparison &c)
{
    const auto limit = [](double value) { return value > 0 ? Json(value) : Json(); };
    const auto &limits = c.limits->limits;
    const bool isJudged = c.errors && limits.areSet();
    return {{"sheet", c.limits->sheet},
            {"mean", limit(limits.mean)},
            {"patch", limit(limits.patch)},
            {"a_passes", isJudged ? Json(c.holds(c.errors->a)) : Json()},
            {"b_passes", isJudged ? Json(c.holds(c.errors->b)) : Json()}};
}

} // namespace

std::string documentOf(const Comparison &c)
{
    Json patches = Json::array(), sectors = Json::array(), outside = Json::object();
    for (const auto &patch : c.patches)
        patches.push_back(jsonOf(patch));
    for (size_t i = 0; i < c.sectors.size(); ++i) {
        auto one = jsonOf(c.sectors[i]);
        one["from_deg"] = 45 * i;
        one["to_deg"] = 45 * (i + 1);
        sectors.push_back(one);
    }
    for (const auto &space : c.outside)
        outside[space.space] = {{"patches", space.patches}, {"share_of_lattice", space.latticeShare}};
    Json out{{"schema", "wavechroma.comparison/1"},
             {"a", jsonOf(c.a)},
             {"b", jsonOf(c.b)},
             {"measure", rowOf(c.measure).id},
             {"patches", patches},
             {"errors", c.errors ? jsonOf(*c.errors) : Json()},
             {"lattice",
              {{"n", c.latticeCount},
               {"mean", c.latticeMean},
               {"p95", c.latticeP95},
               {"max", c.latticeMax},
               {"at_lab", arrayOf(c.mostAt)}}},
             {"sectors", sectors},
             {"greys", greysOf(c.greys)},
             {"skin", jsonOf(c.skin)},
             {"outside", outside}};
    if (c.group)
        out["group"] = jsonOf(*c.group);
    if (c.limits)
        out["limits"] = limitsOf(c);
    return textOf(out);
}

} // namespace wavechroma
