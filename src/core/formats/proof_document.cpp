#include "core/formats/documents.h"
#include "core/formats/facts_json.h"
#include "core/words/proof_words.h"

namespace wavechroma {

using namespace json;

std::string documentOf(const Proof &proof)
{
    Json patches = Json::array();
    for (const auto &p : proof.patches)
        patches.push_back({{"id", p.id},
                           {"lab", arrayOf(p.lab)},
                           {"reference_lab", arrayOf(p.reference)},
                           {"de00", p.de00},
                           {"dL", p.dL},
                           {"dC", p.dC},
                           {"dH", p.dH},
                           {"clipped", p.clipped},
                           {"direction", words::direction(p)}});
    const auto &s = proof.summary;
    Json out{{"schema", "wavechroma.proof/1"},
             {"calibration", proof.calibration},
             {"reading", proof.reading},
             {"patches", patches},
             {"mean", s.mean},
             {"median", s.median},
             {"p95", s.p95},
             {"max", s.max},
             {"worst", proof.worst}};
    if (proof.passes)
        out["passes"] = *proof.passes;
    return textOf(out);
}

static Lab labFrom(const Fields &f, const char *key)
{
    const auto v = f.vector3(key);
    return {v[0], v[1], v[2]};
}

static Proof proofOf(const Fields &f)
{
    Proof proof;
    proof.calibration = f.textOr("calibration", "");
    proof.reading = f.textOr("reading", "");
    for (const auto &p : f.objects("patches"))
        proof.patches.push_back({p.text("id"), labFrom(p, "lab"), labFrom(p, "reference_lab"),
                                 p.number("de00"), p.number("dL"), p.number("dC"), p.number("dH"),
                                 p.has("clipped") && p.flag("clipped")});
    proof.summary = summaryFrom(f);
    proof.worst = f.textOr("worst", "");
    if (f.has("passes"))
        proof.passes = f.flag("passes");
    return proof;
}

Result<Proof> proofFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<Proof>(*document, "proof", name, proofOf);
}

} // namespace wavechroma
