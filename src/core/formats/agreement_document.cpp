#include "core/formats/agreement_document.h"

#include "core/formats/json_fields.h"

namespace wavechroma {

using namespace json;

namespace {

Json jsonOf(const std::vector<AgreedThing> &things)
{
    Json out = Json::array();
    for (const auto &thing : things) {
        Json labs = Json::object();
        for (const auto &[station, lab] : thing.lab)
            labs[station] = arrayOf(lab);
        out.push_back(
            {{"id", thing.id}, {"lab", labs}, {"spread_plain", thing.spreadPlain}, {"spread", thing.spread}});
    }
    return out;
}

Json jsonOf(const MeanSpread &mean)
{
    return {{"plain", mean.plain}, {"now", mean.now}};
}

Json jsonOf(const DrawnFigures::Figure &figure)
{
    return {{"before", figure.before}, {"after", figure.after}};
}

Json jsonOf(const DrawnFigures &drawn)
{
    Json out = Json::object();
    for (const auto &[station, figure] : drawn.stations)
        out[station] = jsonOf(figure);
    out["spread"] = jsonOf(drawn.spread);
    out["objects"] = jsonOf(drawn.objects);
    out["weight"] = drawn.weight;
    out["worst_stays"] = drawn.worstStays;
    if (!drawn.leader.empty())
        out["leader"] = drawn.leader;
    return out;
}

} // namespace

std::string documentOf(const StationAgreement &a)
{
    Json out{{"schema", "wavechroma.agreement/1"},
             {"stations", a.stations},
             {"patches", jsonOf(a.patches)},
             {"objects", jsonOf(a.objects)},
             {"patches_mean", a.patches.empty() ? Json() : jsonOf(a.patchesMean)},
             {"objects_mean", a.objects.empty() ? Json() : jsonOf(a.objectsMean)},
             {"worst", a.worst ? Json{{"id", a.worst->id},
                                      {"stations", {a.worst->first, a.worst->second}},
                                      {"de00", a.worst->de00},
                                      {"mend", a.worst->mend}}
                               : Json()}};
    if (a.drawn)
        out["drawn"] = jsonOf(*a.drawn);
    return textOf(out);
}

} // namespace wavechroma
