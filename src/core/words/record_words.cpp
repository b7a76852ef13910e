#include "core/words/record_words.h"

#include "core/base/filled.h"
#include "core/base/said.h"
#include "core/words/answer_words.h"
#include "core/words/proof_words.h"

#include <algorithm>
#include <map>
#include <set>

namespace wavechroma::words {

namespace {

struct Count
{
    int all = 0, held = 0;
};

/// Things with targets by name: one holds where it holds on every frame.
Count colours(const JobRecord &record)
{
    std::map<std::string, bool> held;
    for (const auto &object : record.objects)
        if (object.probe.within) {
            const auto at = held.emplace(object.probe.place.name, true).first;
            at->second = at->second && *object.probe.within;
        }
    Count out{int(held.size()), 0};
    for (const auto &[name, is] : held)
        out.held += is;
    return out;
}

Count stations(const JobRecord &record)
{
    Count out;
    for (const auto &station : record.stations)
        if (station.figures) {
            ++out.all;
            out.held += station.passes();
        }
    return out;
}

} // namespace

std::string verdict(const JobRecord &record, const Language &language)
{
    const auto things = colours(record), places = stations(record);
    const auto &count = things.all > 0 ? things : places;
    const Places values{{"held", double(count.held)}, {"all", double(count.all)}};
    if (count.all == 0)
        return filled("Nothing was held to a limit", {}, language);
    if (count.all == 1 && things.all > 0)
        return filled(count.held == 1 ? said("The colour holds") : said("The colour does not hold"), {},
                      language);
    if (count.all == 1)
        return filled(count.held == 1 ? said("The station passes") : said("The station fails"), {}, language);
    if (things.all > 0)
        return filled(things.held == things.all ? said("All {all:0} colours hold")
                                                : said("{held:0} of {all:0} colours hold"),
                      values, language);
    return filled(places.held == places.all ? said("All {all:0} stations pass")
                                            : said("{held:0} of {all:0} stations pass"),
                  values, language);
}

std::string scope(const JobRecord &record, const Language &language)
{
    std::set<std::string> cameras;
    double frames = 0;
    for (const auto &station : record.stations) {
        cameras.insert(station.camera.make + station.camera.model + station.camera.serial);
        frames += double(station.frames.size());
    }
    const auto things = colours(record), places = stations(record);
    std::vector<std::string> out{
        filled("{stations:0} {stations|station|stations}, {cameras:0} {cameras|camera|cameras}, {frames:0} "
               "{frames|frame|frames}.",
               {{"stations", double(record.stations.size())},
                {"cameras", double(cameras.size())},
                {"frames", frames}},
               language)};
    if (things.all > 0)
        out.push_back(filled("{held:0} of {all:0} stations with a chart pass.",
                             {{"held", double(places.held)}, {"all", double(places.all)}}, language));
    if (places.all < int(record.stations.size()))
        out.push_back(
            filled("{n:0} {n|station has|stations have} no chart of known colours, so {n|its|their} colours "
                   "are not proved.",
                   {{"n", double(int(record.stations.size()) - places.all)}}, language));
    return joined(out);
}

std::string heldTo(const ToleranceSheet &sheet, const Language &language)
{
    return filled(
        "{title}: over the chart {limits}; a colour with a target within its own tolerance, else "
        "ΔE00 {patch:1}.",
        {{"title", sheet.title}, {"limits", limits(sheet.proof, language)}, {"patch", sheet.proof.patch}},
        language);
}

std::string stationVerdict(const RecordStation &station, const Language &language)
{
    if (station.why == "white-alone")
        return filled("white balance alone", {}, language);
    if (!station.figures)
        return filled("no chart", {}, language);
    return filled(station.passes() ? said("pass") : said("fail"), {}, language);
}

std::string setup(const JobSetup &setup, const Language &language)
{
    std::vector<std::string> out;
    if (setup.lampKind != LampKind::Unknown)
        out.push_back(filled("Light: {kind}.", {{"kind", lampKind(setup.lampKind, language)}}, language));
    const std::pair<const char *, const std::string *> fields[] = {
        {said("Lamps: {text}."), &setup.lamps},
        {said("Modifiers: {text}."), &setup.modifiers},
        {said("Power: {text}."), &setup.power},
        {said("Backdrop: {text}."), &setup.backdrop},
        {said("Notes: {text}"), &setup.notes}};
    for (const auto &[sentence, text] : fields)
        if (!text->empty())
            out.push_back(filled(sentence, {{"text", *text}}, language));
    return joined(out);
}

std::string requirement(const std::string &id, const Language &language)
{
    static const std::map<std::string, const char *> kNames{
        {"mean", said("Mean error over the chart")},
        {"patch", said("Error of the worst patch")},
        {"found", said("The chart was found")},
        {"clipping", said("Clipped share of a patch")},
        {"exposure", said("Exposure against its aim")},
        {"underexposure", said("Uncertainty of the darkest patch")},
        {"evenness", said("Evenness of the light")},
        {"shadow", said("Shadow with an edge")},
        {"glare", said("Glare on one patch, of white")},
        {"focus", said("Blur of an edge")},
        {"noise", said("Noise of a pixel in the middle grey")},
        {"flare", said("Stray light over the chart, of white")},
        {"obstruction", said("Misfit of one patch, as when covered")},
        {"match", said("The pattern of colours fits the chart")}};
    const auto known = kNames.find(id);
    return known == kNames.end() ? id : filled(known->second, {}, language);
}

std::string amount(double value, const std::string &unit, const Language &language)
{
    const Places places{{"value", value}};
    if (unit == "share")
        return filled("{value:%1}", places, language);
    if (unit == "stops")
        return filled("{value:2} stops", places, language);
    if (unit == "pixels")
        return filled("{value:2} pixels", places, language);
    for (const auto &row : kDifferenceMeasures)
        if (unit == row.unit)
            return filled("{sign} {value:2}", {{"sign", std::string(row.sign)}, {"value", value}}, language);
    return filled("{value:2}", places, language);
}

std::vector<std::string> outOfLimits(const JobRecord &record, const Language &language)
{
    std::vector<const RecordObject *> objects;
    for (const auto &object : record.objects)
        if (!object.probe.within.value_or(true))
            objects.push_back(&object);
    std::stable_sort(objects.begin(), objects.end(),
                     [](const auto *a, const auto *b) { return a->probe.de00 > b->probe.de00; });
    std::vector<std::string> out;
    for (const auto *object : objects) {
        const auto &probe = object->probe;
        const Places places{
            {"name", probe.place.name},
            {"image", object->image},
            {"de", probe.de00},
            {"how", direction(probe, language)},
            {"expected", probe.foretold.value_or(0)},
            {"doubt", object->doubts.empty() ? "" : doubtInBrief(object->doubts[0], language)}};
        std::vector<std::string> sentences{
            filled("{name} on {image} is ΔE {de:1} off: {how}.", places, language)};
        if (probe.foretold)
            sentences.push_back(filled("Expected from the chart: ΔE {expected:1}.", places, language));
        if (!object->doubts.empty())
            sentences.push_back(filled("In doubt: {doubt}.", places, language));
        out.push_back(joined(sentences));
    }
    return out;
}

std::string delivered(const JobRecord &record, const Language &language)
{
    if (record.deliveries.empty())
        return filled("No delivery of this job left receipts that could be found.", {}, language);
    return filled("{n:0} {n|file|files}, listed with {n|its hash|their hashes} at the end. Each figure here "
                  "can be computed again from the frames.",
                  {{"n", double(record.deliveries.size())}}, language);
}

std::string framePart(FramePart part, const Language &language)
{
    constexpr const char *kNames[] = {said("chart"), said("flat"), said("grey"), said("product"),
                                      said("check")};
    return filled(kNames[size_t(part)], {}, language);
}

std::string difference(const RecordDifference &difference, const Language &language)
{
    return filled("{where}: {was} in the record, {now} now",
                  {{"where", difference.where}, {"was", difference.was}, {"now", difference.now}}, language);
}

} // namespace wavechroma::words
