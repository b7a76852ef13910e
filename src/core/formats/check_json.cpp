#include "core/formats/check_json.h"

#include "core/words/check_words.h"

namespace wavechroma::json {

namespace {

const char *severityName(Severity severity)
{
    return severity == Severity::Ok ? "ok" : severity == Severity::Warn ? "warn" : "stop";
}

Severity severityFrom(const Fields &f)
{
    const auto name = f.text("severity");
    if (name != "ok" && name != "warn" && name != "stop")
        f.fail("severity", "{where}: \"{key}\" is not ok, warn or stop");
    return name == "ok" ? Severity::Ok : name == "warn" ? Severity::Warn : Severity::Stop;
}

constexpr std::pair<Side, const char *> kSides[] = {{Side::Left, "left"},
                                                    {Side::Right, "right"},
                                                    {Side::Top, "top"},
                                                    {Side::Bottom, "bottom"},
                                                    {Side::TopLeft, "top left"},
                                                    {Side::TopRight, "top right"},
                                                    {Side::BottomLeft, "bottom left"},
                                                    {Side::BottomRight, "bottom right"}};

} // namespace

const char *sideName(Side side)
{
    for (const auto &[known, name] : kSides)
        if (known == side)
            return name;
    return "";
}

Json jsonOf(const Check &c, bool withMessage)
{
    Json out{{"id", nameOf(c.id)}, {"severity", severityName(c.severity)},
             {"value", c.value},   {"unit", c.unit},
             {"limit", c.limit},   {"patches", c.patches}};
    if (!c.finding.empty())
        out["finding"] = c.finding;
    if (c.stops)
        out["stops"] = *c.stops;
    if (c.side != Side::None)
        out["side"] = sideName(c.side);
    if (!c.chart.empty())
        out["chart"] = c.chart;
    if (!c.seenInstead.empty())
        out["seen_instead"] = c.seenInstead;
    if (c.count > 0)
        out["count"] = c.count;
    if (withMessage)
        out["message"] = words::message(c);
    return out;
}

Check checkFrom(const Fields &f)
{
    const auto id = wavechroma::checkFrom(f.text("id"));
    if (!id)
        f.fail("id", "{where}: \"{key}\" is not a check");
    Check c{*id,
            severityFrom(f),
            f.number("value"),
            f.numberOr("limit", 0),
            f.textOr("unit", ""),
            f.texts("patches"),
            f.textOr("finding", "")};
    if (f.has("stops"))
        c.stops = f.number("stops");
    const auto side = f.textOr("side", "");
    for (const auto &[known, name] : kSides)
        if (side == name)
            c.side = known;
    c.chart = f.textOr("chart", "");
    c.seenInstead = f.textOr("seen_instead", "");
    c.count = f.has("count") ? f.integer("count") : 0;
    return c;
}

} // namespace wavechroma::json
