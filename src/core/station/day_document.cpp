#include "core/station/day_document.h"
#include "core/station/partings.h"

#include "core/base/file_uri.h"
#include "core/formats/facts_json.h"

#include <cmath>
#include <unordered_map>

namespace wavechroma {

using json::Json;

namespace {

const char *nameOf(Answer::State state)
{
    constexpr const char *kNames[] = {"none", "good", "look-again", "shoot-again"};
    return kNames[size_t(state)];
}

const char *nameOf(Serving::From from)
{
    constexpr const char *kNames[] = {"station", "neutral", "match", "joined", "hand"};
    return kNames[size_t(from)];
}

Json answerOf(const Answer &answer)
{
    Json out{{"state", nameOf(answer.state)}};
    if (!answer.patch.empty()) {
        out["mean"] = answer.mean;
        out["worst"] = answer.worst;
        out["patch"] = answer.patch;
    }
    return out;
}

/// Of the last chart against the one before it; null when the light held.
Json lightChangeOf(const JobState &state, const Station &station)
{
    if (station.changes.empty() || !station.changes.back())
        return nullptr;
    const auto &change = *station.changes.back();
    const auto since = station.speaking[station.speaking.size() - 2];
    return {{"stops", change.stops ? Json(*change.stops) : Json(nullptr)},
            {"red", change.red},
            {"blue", change.blue},
            {"since", state.frame(since)->camera.capturedAt}};
}

/// The code, and what a doubt can say in figures.
Json figuresOf(const Doubt &doubt)
{
    Json out{{"code", doubt.code}};
    if (doubt.code == "other-iso" || doubt.code == "other-aperture") {
        out["frame"] = doubt.frame;
        out["chart"] = doubt.chart;
    }
    if (doubt.code == "other-day" || doubt.code == "old")
        out["days"] = doubt.chart;
    if (doubt.code == "other-light") {
        out["d_mired"] = std::lround(doubt.frame);
        out["cct_k"] = doubt.chart > 0 ? Json(std::lround(doubt.chart)) : Json(nullptr);
    }
    if (doubt.change) {
        out["red"] = doubt.change->red;
        out["blue"] = doubt.change->blue;
        out["stops"] = doubt.change->stops ? Json(*doubt.change->stops) : Json(nullptr);
    }
    return out;
}

Json servedBy(const JobState &state, const Stations &stations, RowId frame)
{
    const auto serving = stations.servingOf(state, frame);
    const auto *row = serving.isServed() ? calibrationBy(state, serving, frame) : nullptr;
    if (!row || row->calibration.fault())
        return nullptr;
    Json doubts = Json::array(), figures = Json::array();
    for (const auto &doubt : serving.doubts) {
        doubts.push_back(doubt.code);
        if (auto figure = figuresOf(doubt); figure.size() > 1)
            figures.push_back(std::move(figure));
    }
    const Json chart = serving.chart ? Json(writtenPath(state.frame(serving.chart)->path)) : Json(nullptr);
    Json out{{"chart", chart},
             {"calibration", row->calibration->name},
             {"from", nameOf(serving.from)},
             {"by", serving.calibration ? Json(row->calibration->name) : chart},
             {"doubts", doubts},
             {"doubt_figures", figures}};
    if (const auto &drift = serving.drift) {
        out["drift"] = {{"d_mired", drift->mired}};
        if (drift->change.stops)
            out["drift"]["stops"] = *drift->change.stops;
    }
    return out;
}

Json stationOf(const JobState &state, const Stations &stations, const Station &station)
{
    std::unordered_map<RowId, int> brackets;
    for (size_t i = 0; i < station.brackets.size(); ++i)
        for (const auto frame : station.brackets[i].frames)
            brackets[frame] = int(i) + 1;
    Json frames = Json::array();
    for (const auto id : station.frames) {
        const auto &frame = *state.frame(id);
        const auto bracket = brackets.find(id);
        const bool used = std::count(station.speaking.begin(), station.speaking.end(), id) > 0;
        frames.push_back(
            {{"path", writtenPath(frame.path)},
             {"sha256", frame.sha256},
             {"part", wavechroma::nameOf(frame.part)},
             {"captured_at", frame.camera.capturedAt},
             {"set_aside", frame.setAside},
             {"bracket", bracket == brackets.end() ? Json(nullptr) : Json(bracket->second)},
             {"used", used},
             {"picture", frame.picture.empty() ? Json(nullptr) : Json(writtenPath(frame.picture))},
             {"served_by", servedBy(state, stations, id)}});
        if (frame.crop) {
            const auto &c = *frame.crop;
            frames.back()["crop"] = {c.x, c.y, c.width, c.height, c.degrees};
        }
    }
    return {{"name", station.name},
            {"setup", std::to_string(station.setup)},
            {"kind", station.camera.isRendered ? "rendered" : "raw"},
            {"camera", json::jsonOf(station.camera)},
            {"answer", answerOf(station.answer)},
            {"light_change", lightChangeOf(state, station)},
            {"frames", frames}};
}

} // namespace

std::string dayDocument(const JobState &state, const Stations &stations)
{
    Json setups = Json::array(), all = Json::array();
    for (const auto &s : state.setups)
        setups.push_back({{"id", std::to_string(s.id)},
                          {"title", s.title},
                          {"lamp_kind", wavechroma::nameOf(s.lampKind)},
                          {"lamps", s.lamps},
                          {"modifiers", s.modifiers},
                          {"power", s.power},
                          {"backdrop", s.backdrop},
                          {"notes", s.notes}});
    for (const auto *station : stations.all())
        if (!station->frames.empty())
            all.push_back(stationOf(state, stations, *station));
    Json partings = Json::array();
    for (const auto &parting : partingsOf(state, stations))
        partings.push_back({{"frame", writtenPath(state.frame(parting.frame)->path)},
                            {"setup", std::to_string(state.frame(parting.frame)->setup)},
                            {"frames", parting.frames},
                            {"light", figuresOf(parting.doubt)}});
    return json::textOf({{"schema", "wavechroma.day/1"},
                         {"title", state.title.text},
                         {"setups", setups},
                         {"stations", all},
                         {"partings", partings}});
}

} // namespace wavechroma
