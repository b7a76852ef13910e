#include "core/formats/ask_json.h"

#include "core/base/file_uri.h"
#include "core/formats/model_json.h"

namespace wavechroma::json {

Json jsonOf(const Parts &parts)
{
    return {{"colour", parts.colour}, {"tone", parts.tone}};
}

Parts partsFrom(const Fields &f)
{
    const Parts parts{f.text("colour"), f.text("tone")};
    if (const auto known = check(parts); !known)
        f.fail("colour", {"{where}: \"{key}\" or tone: {reason}", {{"reason", known.error().phrase}}});
    return parts;
}

Json jsonOf(const std::vector<SourceFrame> &frames)
{
    Json out = Json::array();
    for (const auto &frame : frames)
        out.push_back({{"image", writtenPath(frame.image)}, {"sha256", frame.sha256}});
    return out;
}

std::vector<SourceFrame> sourcesFrom(const Fields &f, const char *key)
{
    std::vector<SourceFrame> out;
    if (f.has(key))
        for (const auto &s : f.objects(key))
            out.push_back({s.path("image"), s.textOr("sha256", "")});
    return out;
}

const char *nameOf(Appearance appearance)
{
    return appearance == Appearance::UnderLight ? "light" : "d50";
}

Appearance appearanceFrom(const Fields &f, const char *key)
{
    const auto name = f.text(key);
    if (name != "light" && name != "d50")
        f.fail(key, "{where}: \"{key}\" is not light or d50");
    return name == "light" ? Appearance::UnderLight : Appearance::UnderD50;
}

Json jsonOf(const FitAsk &ask)
{
    Json out{{"parts", jsonOf(ask.parts)}};
    out["lean"] = jsonOf(ask.lean);
    if (ask.light)
        out["light"] = {{"name", ask.light->name},
                        {"xy", {ask.light->xy.x, ask.light->xy.y}},
                        {"exif_light_source", ask.light->exifCode},
                        {"spectrum", jsonOf(ask.light->spectrum)}};
    if (ask.appearance)
        out["appearance"] = nameOf(*ask.appearance);
    const std::pair<const char *, const std::string &> texts[] = {
        {"weights", ask.weights}, {"reference", ask.reference}, {"name", ask.name}, {"setup", ask.setup}};
    for (const auto &[key, text] : texts)
        if (!text.empty())
            out[key] = text;
    if (!ask.without.empty())
        out["without"] = ask.without;
    if (!ask.with.empty())
        out["with"] = jsonOf(ask.with);
    for (const auto &t : ask.things)
        out["things"].push_back({{"name", t.name},
                                 {"image", writtenPath(t.image)},
                                 {"rgb", {t.rgb.r, t.rgb.g, t.rgb.b}},
                                 {"sd", {t.sd.r, t.sd.g, t.sd.b}},
                                 {"n", t.count},
                                 {"lab", {t.lab.l, t.lab.a, t.lab.b}},
                                 {"weight", t.weight}});
    return out;
}

static KnownThing thingFrom(const Fields &f)
{
    const auto rgb = f.vector3("rgb"), sd = f.vector3("sd"), lab = f.vector3("lab");
    const KnownThing out{f.text("name"),        f.path("image"), {rgb[0], rgb[1], rgb[2]},
                         {sd[0], sd[1], sd[2]}, f.integer("n"),  {lab[0], lab[1], lab[2]},
                         f.number("weight")};
    if (!(out.weight > 0) || out.weight > 1000)
        f.fail("weight", "{where}: \"{key}\" must be above 0, and at most 1000");
    return out;
}

FitAsk askFrom(const Fields &f)
{
    FitAsk ask;
    ask.parts = partsFrom(f.object("parts"));
    ask.lean = leanFrom(f.object("lean"));
    if (f.has("light")) {
        const auto light = f.object("light");
        const auto xy = light.numbers("xy", 2);
        ask.light = NamedLight{light.text("name"),
                               spectrumFrom(light.object("spectrum")),
                               {xy[0], xy[1]},
                               light.integer("exif_light_source")};
    }
    if (f.has("appearance"))
        ask.appearance = appearanceFrom(f, "appearance");
    ask.weights = f.textOr("weights", "");
    ask.reference = f.textOr("reference", "");
    ask.name = f.textOr("name", "");
    ask.setup = f.textOr("setup", "");
    if (f.has("without"))
        ask.without = f.texts("without");
    ask.with = sourcesFrom(f, "with");
    if (f.has("things"))
        for (const auto &t : f.objects("things"))
            ask.things.push_back(thingFrom(t));
    return ask;
}

} // namespace wavechroma::json
