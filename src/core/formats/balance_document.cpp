#include "core/base/file_uri.h"
#include "core/formats/documents.h"
#include "core/formats/facts_json.h"
#include "core/formats/json_fields.h"

namespace wavechroma {

using namespace json;

std::string documentOf(const Balance &balance)
{
    Json source{{"image", writtenPath(balance.source.image)}};
    if (balance.source.area)
        source["area"] = *balance.source.area;
    else
        source["patches"] = balance.source.patches;
    Json out{{"schema", "wavechroma.balance/1"},
             {"multipliers", arrayOf(balance.multipliers)},
             {"source", source}};
    if (balance.temperature) {
        out["cct_k"] = balance.temperature->cctKelvin;
        out["duv"] = balance.temperature->duv;
    }
    out["neutral"] = arrayOf(vectorOf(balance.neutral));
    if (balance.leaned) {
        out["lean"] = {{"warmer", balance.lean.warmer}, {"rosier", balance.lean.rosier}};
        out["leaned_multipliers"] = arrayOf(*balance.leaned);
    }
    if (balance.preset) {
        out["preset"] = {{"name", balance.preset->name},
                         {"setup", balance.preset->setup},
                         {"camera", jsonOf(balance.preset->camera)}};
        if (balance.preset->asShotNeutral)
            out["preset"]["as_shot_neutral"] = arrayOf(*balance.preset->asShotNeutral);
    }
    return textOf(out);
}

static Balance balanceOf(const Fields &f)
{
    Balance balance;
    balance.multipliers = f.vector3("multipliers");
    const auto n = f.vector3("neutral");
    balance.neutral = {n[0], n[1], n[2]};
    const auto source = f.object("source");
    balance.source.image = source.has("image") ? source.path("image") : "";
    if (source.has("patches"))
        balance.source.patches = source.texts("patches");
    if (source.has("area")) {
        const auto a = source.numbers("area", 4);
        balance.source.area = std::array<double, 4>{a[0], a[1], a[2], a[3]};
    }
    if (f.has("cct_k"))
        balance.temperature = Temperature{f.number("cct_k"), f.numberOr("duv", 0)};
    if (f.has("lean")) {
        const auto lean = f.object("lean");
        balance.lean = {lean.number("warmer"), lean.number("rosier")};
        balance.leaned = f.vector3("leaned_multipliers");
    }
    if (f.has("preset")) {
        const auto preset = f.object("preset");
        balance.preset =
            PresetFacts{preset.text("name"), preset.textOr("setup", ""), factsFrom(preset.object("camera"))};
        if (preset.has("as_shot_neutral"))
            balance.preset->asShotNeutral = preset.vector3("as_shot_neutral");
    }
    for (const double m : balance.multipliers)
        if (!(m > 0))
            f.fail("multipliers", "{where}: \"{key}\" must be positive");
    return balance;
}

Result<Balance> balanceFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<Balance>(*document, "balance", name, balanceOf);
}

} // namespace wavechroma
