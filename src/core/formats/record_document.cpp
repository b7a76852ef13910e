#include "core/formats/record_document.h"

#include "core/base/file_uri.h"
#include "core/capture/lamp_kind.h"
#include "core/formats/agreement_document.h"
#include "core/formats/delivery_document.h"
#include "core/formats/documents.h"
#include "core/formats/drift_document.h"
#include "core/formats/json_fields.h"
#include "core/formats/names.h"
#include "core/formats/tolerance_sheet.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace wavechroma {

using namespace json;

namespace {

constexpr double kSameFigure = 1e-6; ///< relative
constexpr const char *kFrameParts[] = {"chart", "flat", "grey", "product", "check"};

Json parsed(const std::string &document)
{
    return Json::parse(document);
}

Json jsonOf(const RecordFrame &frame)
{
    return {{"path", writtenPath(frame.path)},
            {"sha256", frame.sha256},
            {"part", kFrameParts[size_t(frame.part)]},
            {"set_aside", frame.setAside}};
}

Json jsonOf(const RecordFigures &figures)
{
    return {{"unseen_mean", figures.unseenMean}, {"interval", {figures.interval.low, figures.interval.high}},
            {"fit_mean", figures.fitMean},       {"worst", figures.worst},
            {"worst_patch", figures.worstPatch}, {"neutral_max", figures.neutralMax}};
}

Json jsonOf(const RecordRequirement &requirement)
{
    return {{"id", requirement.id},
            {"limit", requirement.limit},
            {"value", requirement.value},
            {"unit", requirement.unit},
            {"passes", requirement.passes}};
}

Json jsonOf(const RecordStation &station)
{
    Json frames = Json::array(), requirements = Json::array();
    for (const auto &frame : station.frames)
        frames.push_back(jsonOf(frame));
    for (const auto &requirement : station.requirements)
        requirements.push_back(jsonOf(requirement));
    const auto &s = station.setup;
    Json out{{"name", station.name},
             {"setup",
              {{"title", s.title},
               {"lamp_kind", nameOf(s.lampKind)},
               {"lamps", s.lamps},
               {"modifiers", s.modifiers},
               {"power", s.power},
               {"backdrop", s.backdrop},
               {"notes", s.notes}}},
             {"frames", frames},
             {"reading", station.reading ? parsed(documentOf(*station.reading)) : Json()},
             {"calibration", station.calibration ? parsed(documentOf(*station.calibration)) : Json()},
             {"figures", station.figures ? jsonOf(*station.figures) : Json()},
             {"requirements", requirements},
             {"drift", station.drift.empty() || !station.calibration
                           ? Json()
                           : parsed(documentOf(Drift{station.calibration->name, station.drift}))}};
    if (!station.why.empty())
        out["why"] = station.why;
    return out;
}

Json jsonOf(const RecordObject &object)
{
    const auto &p = object.probe;
    Json doubts = Json::array();
    for (const auto &doubt : object.doubts)
        doubts.push_back(doubt.code);
    return {{"name", p.place.name},
            {"image", writtenPath(object.image)},
            {"place", {p.place.x, p.place.y, p.place.radius}},
            {"lab", p.lab ? arrayOf(*p.lab) : Json()},
            {"target_lab", p.target ? arrayOf(p.target->lab) : Json()},
            {"tolerance", p.target && p.target->tolerance ? Json(*p.target->tolerance) : Json()},
            {"de00", p.target && p.lab ? Json(p.de00) : Json()},
            {"foretold_error", p.foretold ? Json(*p.foretold) : Json()},
            {"within", p.within ? Json(*p.within) : Json()},
            {"doubts", doubts}};
}

/// A record's text as it was parsed; refused where it is none.
Result<Json> recordFrom(const std::string &text, const std::string &name)
{
    auto json = Json::parse(text, nullptr, false);
    if (json.is_discarded() || !json.is_object())
        return unusable("{file}: is not a record: no JSON object", {{"file", name}});
    const auto schema = json.value("schema", std::string());
    if (!schema.starts_with("wavechroma.record/"))
        return unusable("{file}: is not a record (wavechroma.record/1)", {{"file", name}});
    if (schema != "wavechroma.record/1")
        return unusable("{file}: is a newer record, {schema}; this program reads wavechroma.record/1",
                        {{"file", name}, {"schema", schema}});
    return json;
}

std::string shown(const Json &value)
{
    if (value.is_null())
        return "–";
    auto text = value.dump();
    constexpr size_t kMost = 80;
    return text.size() > kMost ? text.substr(0, kMost) + "…" : text;
}

class Differences
{
public:
    void compare(const Json &was, const Json &now, const std::string &where)
    {
        if (was.is_object() && now.is_object())
            objects(was, now, where);
        else if (was.is_array() && now.is_array())
            arrays(was, now, where);
        else if (!isSame(was, now))
            all.push_back({where, shown(was), shown(now)});
    }
    std::vector<RecordDifference> all;

private:
    static bool isSame(const Json &was, const Json &now)
    {
        if (!was.is_number() || !now.is_number())
            return was == now;
        const double a = was.get<double>(), b = now.get<double>();
        return std::abs(a - b) <= kSameFigure * std::max({std::abs(a), std::abs(b), 1e-3});
    }
    void objects(const Json &was, const Json &now, const std::string &where)
    {
        std::set<std::string> keys;
        for (const auto &item : was.items())
            keys.insert(item.key());
        for (const auto &item : now.items())
            keys.insert(item.key());
        for (const auto &key : keys) {
            if (key == "made_at" || key == "made_with")
                continue;
            const auto a = was.find(key), b = now.find(key);
            compare(a == was.end() ? Json() : *a, b == now.end() ? Json() : *b,
                    where.empty() ? key : where + "." + key);
        }
    }
    void arrays(const Json &was, const Json &now, const std::string &where)
    {
        for (size_t i = 0; i < std::max(was.size(), now.size()); ++i)
            compare(i < was.size() ? was[i] : Json(), i < now.size() ? now[i] : Json(),
                    where + "[" + std::to_string(i) + "]");
    }
};

} // namespace

std::string documentOf(const JobRecord &record)
{
    Json stations = Json::array(), objects = Json::array(), deliveries = Json::array();
    for (const auto &station : record.stations)
        stations.push_back(jsonOf(station));
    for (const auto &object : record.objects)
        objects.push_back(jsonOf(object));
    for (const auto &receipt : record.deliveries)
        deliveries.push_back(parsed(lineOf(receipt)));
    return textOf({{"schema", "wavechroma.record/1"},
                   {"title", record.title},
                   {"made_at", record.madeAt},
                   {"made_with", record.madeWith},
                   {"sheet", parsed(documentOf(record.sheet))},
                   {"verdict", record.passes() ? "pass" : "fail"},
                   {"stations", stations},
                   {"objects", objects},
                   {"agreement", record.agreement ? parsed(documentOf(*record.agreement)) : Json()},
                   {"deliveries", deliveries},
                   {"unread", jsonOfPaths(record.unread)}});
}

Result<std::vector<RecordDifference>> recordDifferences(const std::string &was, const std::string &now,
                                                        const std::string &name)
{
    const auto a = recordFrom(was, name), b = recordFrom(now, name);
    if (!a || !b)
        return (a ? b : a).error();
    Differences out;
    out.compare(*a, *b, "");
    return out.all;
}

Result<std::vector<std::string>> recordStations(const std::string &text, const std::string &name)
{
    const auto record = recordFrom(text, name);
    if (!record)
        return record.error();
    std::vector<std::string> out;
    const auto stations = record->find("stations");
    if (stations == record->end() || !stations->is_array())
        return unusable("{file}: \"stations\" is missing", {{"file", name}});
    for (const auto &station : *stations)
        if (station.is_object())
            out.push_back(station.value("name", std::string()));
    return out;
}

Result<std::vector<DeliveryReceipt>> recordDeliveries(const std::string &text, const std::string &name)
{
    const auto record = recordFrom(text, name);
    if (!record)
        return record.error();
    std::vector<DeliveryReceipt> out;
    const auto deliveries = record->find("deliveries");
    if (deliveries == record->end() || !deliveries->is_array())
        return unusable("{file}: \"deliveries\" is missing", {{"file", name}});
    for (const auto &one : *deliveries) {
        auto receipt = receiptFromLine(one.dump(), name);
        if (!receipt)
            return receipt.error();
        out.push_back(std::move(*receipt));
    }
    return out;
}

} // namespace wavechroma
