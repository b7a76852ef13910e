#include "core/words/proof_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"

#include <cmath>

namespace wavechroma::words {

namespace {

enum Grade { Little, Plain, Much };

Grade gradeOf(double size)
{
    return std::abs(size) < 1.5 ? Little : std::abs(size) >= 5 ? Much : Plain;
}

/// "a little lighter", "lighter", "much lighter".
std::string graded(const std::string &word, Grade grade, const Language &language)
{
    const char *text = grade == Little ? words::said("a little {word}")
                       : grade == Much ? words::said("much {word}")
                                       : words::said("{word}");
    return filled(text, {{"word", word}}, language);
}

} // namespace

std::string direction(const PatchProof &p, const Language &language)
{
    constexpr double kVisible = 0.5;
    const double da = p.lab.a - p.reference.a, db = p.lab.b - p.reference.b;
    const double chroma = std::hypot(p.reference.a, p.reference.b);
    std::vector<std::string> words;
    std::optional<Grade> last;
    const auto add = [&](double size, const char *word) {
        const auto grade = gradeOf(size);
        // "a little lighter, redder": a degree that both share is said once
        const auto said = filled(word, {}, language);
        words.push_back(last == grade ? said : graded(said, grade, language));
        last = grade;
    };
    if (std::abs(p.dL) >= kVisible)
        add(p.dL, p.dL > 0 ? "lighter" : "darker");
    // On a coloured patch a change along its own hue is seen as more or less colour, one across it as another
    // hue.
    if (chroma > 10 && std::abs(p.dC) >= kVisible && std::abs(p.dC) >= std::abs(p.dH))
        add(p.dC, p.dC > 0 ? "stronger" : "duller");
    else if (std::abs(da) >= std::abs(db) && std::abs(da) >= kVisible)
        add(da, da > 0 ? "redder" : "greener");
    else if (std::abs(db) >= kVisible)
        add(db, db > 0 ? "yellower" : "bluer");
    return words.empty() ? filled("no visible error", {}, language) : joined(words, ", ");
}

std::string held(const HeldErrors &errors, const Language &language)
{
    const Places places{{"sign", std::string(rowOf(errors.measure).sign)},
                        {"mean", errors.mean},
                        {"most", errors.limits.mean},
                        {"patch", errors.patch},
                        {"worst", errors.worst},
                        {"each", errors.limits.patch}};
    const auto mean = errors.limits.mean > 0 ? filled("{sign} mean {mean:2} of {most:1}", places, language)
                                             : filled("{sign} mean {mean:2}", places, language);
    const auto worst = errors.limits.patch > 0
                           ? filled("worst {patch} {worst:2} of {each:1}", places, language)
                           : filled("worst {patch} {worst:2}", places, language);
    return joined({mean, worst}, ", ");
}

std::string limits(const ProofLimits &limits, const Language &language)
{
    std::vector<std::string> out;
    for (const auto &row : kDifferenceMeasures) {
        const auto own = limits.in(row.measure);
        const Places places{{"sign", std::string(row.sign)}, {"mean", own.mean}, {"patch", own.patch}};
        if (own.mean > 0 && own.patch > 0)
            out.push_back(filled("{sign} mean {mean:1}, any one patch {patch:1}", places, language));
        else if (own.mean > 0)
            out.push_back(filled("{sign} mean {mean:1}", places, language));
        else if (own.patch > 0)
            out.push_back(filled("{sign} any one patch {patch:1}", places, language));
    }
    return joined(out, "; ");
}

std::string direction(const Probe &probe, const Language &language)
{
    if (!probe.lab || !probe.target)
        return {};
    PatchProof patch;
    patch.lab = *probe.lab;
    patch.reference = probe.target->lab;
    patch.dL = probe.dL;
    patch.dC = probe.dC;
    patch.dH = probe.dH;
    return direction(patch, language);
}

std::string cast(const NeutralProof &neutrals, const Language &language)
{
    const double a = neutrals.castA, b = neutrals.castB, size = std::hypot(a, b);
    if (size < 0.3)
        return filled("neutral", {}, language);
    const char *word = std::abs(b) >= std::abs(a) ? (b > 0 ? "warm" : "cool") : (a > 0 ? "rosy" : "green");
    const char *text = size < 1   ? words::said("a trace {word}")
                       : size < 3 ? words::said("{word}")
                                  : words::said("strongly {word}");
    return filled(text, {{"word", filled(word, {}, language)}}, language);
}

std::string aimed(const AimedNeutral &one, const Language &language)
{
    const auto unit = filled(one.isCode ? "code" : "L*", {}, language);
    const Places size{{"stops", std::abs(one.stops)}};
    const auto verdict = !one.usable     ? filled("cannot be used", {}, language)
                         : one.passes    ? filled("pass", {}, language)
                         : one.stops > 0 ? filled("fail, open up {stops:2} stops", size, language)
                                         : filled("fail, close down {stops:2} stops", size, language);
    return filled("{id} is {unit} {seen:2}, aim {aim:2} ± {tolerance:1}: {verdict}",
                  {{"id", one.id},
                   {"unit", unit},
                   {"seen", one.seen},
                   {"aim", one.aim},
                   {"tolerance", one.tolerance},
                   {"verdict", verdict}},
                  language);
}

} // namespace wavechroma::words
