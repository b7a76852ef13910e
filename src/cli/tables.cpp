#include "cli/tables.h"

#include "cli/command.h"
#include "core/base/text_table.h"
#include "core/tasks/prove_task.h"
#include "core/words/agreement_words.h"
#include "core/words/answer_words.h"
#include "core/words/comparison_words.h"
#include "core/words/drift_words.h"
#include "core/words/proof_words.h"

#include <algorithm>
#include <set>

namespace wavechroma::cli {

namespace {

std::string decimals(double value, int count)
{
    char text[64];
    std::snprintf(text, sizeof text, "%.*f", count, value);
    return text;
}

std::string joined(const std::vector<std::string> &words)
{
    std::string out;
    for (const auto &word : words)
        out += (out.empty() ? "" : ", ") + word;
    return out;
}

std::string doubtsIn(const std::vector<Doubt> &doubts)
{
    std::vector<std::string> words;
    for (const auto &doubt : doubts)
        words.push_back(words::doubtInBrief(doubt));
    return joined(words);
}

std::string plural(size_t count, const char *one, const char *several)
{
    return std::to_string(count) + " " + (count == 1 ? one : several);
}

void addLab(std::vector<std::string> &row, const std::optional<Lab> &lab)
{
    for (const auto value : {&Lab::l, &Lab::a, &Lab::b})
        row.push_back(lab ? decimals((*lab).*value, 1) : "");
}

} // namespace

int deliverTable(const Table &table, const std::string &document, const std::string &output)
{
    const bool isWritten = !output.empty() && output != "-";
    const int saved = isWritten ? deliver(document, output) : int(Done);
    return std::max({saved, deliver(table.text, "-"), table.holds ? int(Done) : int(AnswerIsNo)});
}

Table tableOf(const Proof &proof, const ToleranceSheet &sheet)
{
    TextTable table({"patch", ">L*", ">a*", ">b*", ">wanted L*", ">a*", ">b*", ">ΔE00", "is", ""});
    for (const auto &patch : proof.patches) {
        std::vector<std::string> row{patch.id};
        addLab(row, patch.lab);
        addLab(row, patch.reference);
        row.push_back(decimals(patch.de00, 2));
        row.push_back(words::direction(patch));
        row.push_back(patch.de00 > sheet.proof.patch ? "over the limit" : "");
        table.add(row);
    }
    Table out;
    out.holds = passes(proof, sheet.proof);
    std::vector<std::string> held;
    for (const auto &one : heldTo(sheet.proof, proof))
        held.push_back(words::held(one));
    out.text = table.text() + (out.holds ? "pass" : "fail") + ": " + words::joined(held, "; ") + " (" +
               sheet.name + ")\n";
    return out;
}

std::string sentences(const Comparison &comparison)
{
    std::string out = words::comparison(comparison);
    for (const auto &more : {words::comparedGroup(comparison), words::comparedLimits(comparison)})
        out += more.empty() ? "" : "\n" + more;
    return out;
}

/// Patch by patch; then the sentence that matters. Nothing fails here: neither has a limit to hold.
Table tableOf(const Comparison &comparison)
{
    const std::string sign = rowOf(comparison.measure).sign;
    TextTable table({"patch", ">A L*", ">a*", ">b*", ">B L*", ">a*", ">b*", ">between, " + sign, ">A is off",
                     ">B is off"});
    for (const auto &patch : comparison.patches) {
        std::vector<std::string> row{patch.id};
        addLab(row, patch.a);
        addLab(row, patch.b);
        row.push_back(decimals(patch.between, 2));
        for (const auto &error : {patch.errorA, patch.errorB})
            row.push_back(error ? decimals(*error, 2) : "");
        table.add(row);
    }
    return {(comparison.patches.empty() ? "" : table.text()) + sentences(comparison) + "\n", true};
}

Table tableOf(const Drift &drift)
{
    TextTable table({"reading", ">mean ΔE00", ">was", ">worst", "patch", ">stops", ">mired", ">Duv", ""});
    std::string sentences;
    bool holds = true;
    for (const auto &check : drift.checks) {
        table.add({check.image, decimals(check.mean, 2), decimals(check.was, 2), decimals(check.max, 2),
                   check.worst, decimals(check.levelStops, 2),
                   check.light ? decimals(check.light->mired, 1) : "",
                   check.light ? decimals(check.light->duv, 4) : "", check.passes ? "pass" : "fail"});
        sentences += check.image + ": " + words::drift(check) + "\n";
        holds = holds && check.passes;
    }
    return {table.text() + sentences, holds};
}

Table tableOf(const StationAgreement &agreement)
{
    TextTable table({"", "", ">stations", ">white balance alone", ">now, ΔE00"});
    for (const auto &[kind, things] :
         {std::pair{"patch", &agreement.patches}, {"object", &agreement.objects}})
        for (const auto &thing : *things)
            table.add({kind, thing.id, std::to_string(thing.lab.size()), decimals(thing.spreadPlain, 2),
                       decimals(thing.spread, 2)});
    return {table.text() + words::agreement(agreement) + "\n", true};
}

Table tableOf(const std::vector<FrameProbes> &frames)
{
    TextTable table(
        {"frame", "probe", ">L*", ">a*", ">b*", ">target L*", ">a*", ">b*", ">ΔE00", ">within", "verdict"});
    size_t held = 0, judged = 0, unread = 0;
    for (const auto &frame : frames)
        for (const auto &probe : frame.probes) {
            std::vector<std::string> row{frame.image, probe.place.name};
            addLab(row, probe.lab);
            addLab(row, probe.target ? std::optional(probe.target->lab) : std::nullopt);
            row.push_back(probe.within ? decimals(probe.de00, 2) : "");
            row.push_back(probe.target && probe.target->tolerance ? decimals(*probe.target->tolerance, 1)
                                                                  : "");
            row.push_back(!probe.lab ? probe.why : !probe.within ? "" : *probe.within ? "within" : "outside");
            unread += !probe.lab;
            judged += probe.within.has_value();
            held += probe.within.value_or(false);
            table.add(row);
        }
    Table out;
    out.holds = held == judged && unread == 0;
    out.text = table.text() + (out.holds ? "pass" : "fail") + ": " + std::to_string(held) + " of " +
               plural(judged, "target", "targets") + " held" +
               (unread ? ", " + plural(unread, "place", "places") + " not read" : "") + "\n";
    return out;
}

Table tableOf(const JobState &state, const Stations &stations)
{
    TextTable table({"station", "answer", ">mean ΔE00", ">worst", "patch", ">frames", ">served", "doubts"});
    size_t good = 0, all = 0, unserved = 0;
    for (const auto *station : stations.all()) {
        if (station->frames.empty())
            continue;
        size_t products = 0, served = 0;
        std::set<std::string> doubts;
        for (const auto id : station->frames) {
            const auto &frame = *state.frame(id);
            if (frame.part != FramePart::Product || frame.setAside)
                continue;
            ++products;
            const auto serving = stations.servingOf(state, id);
            served += serving.isServed();
            for (const auto &doubt : serving.doubts)
                doubts.insert(words::doubtInBrief(doubt));
        }
        const auto &answer = station->answer;
        const bool isJudged = !answer.patch.empty();
        table.add({station->name, words::headline(answer), isJudged ? decimals(answer.mean, 2) : "",
                   isJudged ? decimals(answer.worst, 2) : "", answer.patch, std::to_string(products),
                   std::to_string(served), joined({doubts.begin(), doubts.end()})});
        ++all;
        good += answer.state == Answer::State::Good;
        unserved += products - served;
    }
    Table out;
    out.holds = good == all && unserved == 0;
    out.text = table.text() + (out.holds ? "pass" : "fail") + ": " + std::to_string(good) + " of " +
               plural(all, "station", "stations") + " good" +
               (unserved ? ", " + plural(unserved, "frame", "frames") + " that nothing serves" : "") + "\n";
    return out;
}

Table tableOf(const DeliveryPlan &plan)
{
    TextTable table({"file", "form", "from", "calibration", "state", "doubts"});
    size_t fresh = 0, stale = 0, blocked = 0;
    for (const auto &item : plan.items) {
        const char *state = item.isInTheWay  ? "in the way"
                            : item.isDone    ? "there"
                            : item.isStale() ? "stale"
                                             : "new";
        table.add({item.shownPath(), item.planned.form, item.planned.source, item.planned.calibration, state,
                   doubtsIn(item.doubts)});
        blocked += item.isInTheWay;
        stale += item.isStale();
        fresh += !item.isInTheWay && !item.isDone && !item.isStale();
    }
    for (const auto &receipt : plan.outlived)
        table.add(
            {receipt.path, receipt.form, receipt.source, receipt.calibration, "stale: another name now", ""});
    for (const auto &left : plan.asked.leftOut)
        table.add({left.path, left.form, left.path, "", "left out: " + words::leftOut(left.why), ""});
    Table out;
    out.holds = plan.asked.leftOut.empty() && blocked == 0;
    out.text = table.text() + (out.holds ? "pass" : "fail") + ": " + plural(fresh, "file", "files") +
               " to write, " + std::to_string(stale) + " stale, " + std::to_string(blocked) +
               " in the way, " + plural(plan.asked.leftOut.size(), "frame", "frames") + " left out\n";
    return out;
}

} // namespace wavechroma::cli
