#include "core/formats/probe_document.h"

#include "core/base/csv_table.h"
#include "core/base/file_uri.h"
#include "core/base/letters.h"
#include "core/base/said.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/csv_colours.h"
#include "core/formats/cxf.h"
#include "core/formats/json_fields.h"
#include "core/formats/reference_rows.h"
#include "core/words/proof_words.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <sstream>

namespace wavechroma {

using namespace json;

namespace {

template <class T> Json orNull(const std::optional<T> &value)
{
    return value ? Json(*value) : Json(nullptr);
}

Json jsonOf(const Probe &p)
{
    Json out{{"name", p.place.name}, {"place", {p.place.x, p.place.y, p.place.radius}}, {"n", p.count}};
    out["lab"] = p.lab ? arrayOf(*p.lab) : Json(nullptr);
    if (!p.why.empty())
        out["why"] = p.why;
    out["sd"] = p.lab ? arrayOf(p.sd) : Json(nullptr);
    out["clipped"] = p.clipped;
    out["foretold_error"] = orNull(p.foretold);
    out["target_lab"] = p.target ? arrayOf(p.target->lab) : Json(nullptr);
    const bool isCompared = p.lab && p.target;
    const std::pair<const char *, double> figures[] = {
        {"de00", p.de00}, {"dL", p.dL}, {"dC", p.dC}, {"dH", p.dH}};
    for (const auto &[key, value] : figures)
        out[key] = isCompared ? Json(value) : Json(nullptr);
    out["within"] = orNull(p.within);
    if (isCompared)
        out["direction"] = words::direction(p);
    return out;
}

Json jsonOf(const FrameProbes &frame)
{
    Json probes = Json::array();
    for (const auto &probe : frame.probes)
        probes.push_back(jsonOf(probe));
    return {{"schema", "wavechroma.probes/1"},
            {"image", writtenPath(frame.image)},
            {"calibration", frame.calibration.empty() ? Json(nullptr) : Json(frame.calibration)},
            {"probes", probes}};
}

ProbeTarget targetOf(const Fields &f)
{
    ProbeTarget out;
    out.name = f.text("name");
    if (f.has("lab")) {
        const auto v = f.vector3("lab");
        out.lab = {v[0], v[1], v[2]};
    } else if (f.has("xyz")) {
        out.lab = labFromXyz(xyzOf(f.vector3("xyz")));
    } else if (f.has("srgb")) {
        const auto lab = labFromSrgbHex(f.text("srgb"));
        if (!lab)
            f.fail("srgb", "{where}: \"{key}\" is not #rrggbb");
        out.lab = *lab;
    } else if (f.has("reflectance")) {
        const auto r = f.object("reflectance");
        const Spectrum s{r.number("start_nm"), r.number("step_nm"), r.anyNumbers("values")};
        if (s.values.size() < 4 || !(s.stepNm > 0))
            f.fail("reflectance", "{where}: \"{key}\" needs at least 4 values and a positive step_nm");
        out.lab = labFromXyz(xyzD50FromReflectance(s, illuminantD50()));
    } else {
        f.fail("lab", "{where}: \"{key}\" is missing, and so are \"xyz\", \"srgb\" and \"reflectance\"");
    }
    if (f.has("tolerance") && !f.raw("tolerance").is_null())
        out.tolerance = f.number("tolerance");
    return out;
}

Result<std::vector<ProbeTarget>> targetsFromJson(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<std::vector<ProbeTarget>>(*document, "targets", name, [](const Fields &f) {
        std::vector<ProbeTarget> out;
        for (const auto &one : f.objects("targets"))
            out.push_back(targetOf(one));
        return out;
    });
}

Result<std::optional<double>> toleranceIn(const csv::Line &line, const csv::Columns &columns)
{
    if (columns.tolerance < 0 || csv::lower(line.fields[size_t(columns.tolerance)]).empty())
        return std::optional<double>();
    const auto tolerance = line.at(columns.tolerance);
    return tolerance ? Result<std::optional<double>>(std::optional(*tolerance)) : tolerance.error();
}

/// Targets of a table, whose colours are known once all rows are.
struct CsvTargets
{
    std::vector<ProbeTarget> targets;
    std::vector<size_t> ofRows; ///< which target each of the rows is for
    ReferenceRows rows;
};

Result<Done> addTarget(CsvTargets &to, const csv::Line &line, const csv::Columns &columns)
{
    ProbeTarget out;
    out.name = line.fields[size_t(columns.ids.front())];
    const auto tolerance = toleranceIn(line, columns);
    if (!tolerance)
        return tolerance.error();
    out.tolerance = *tolerance;
    if (columns.srgb >= 0 && !line.fields[size_t(columns.srgb)].empty()) {
        const auto lab = labFromSrgbHex(line.fields[size_t(columns.srgb)]);
        if (!lab)
            return unusable("{file}, line {line}: \"{text}\" is not #rrggbb",
                            {{"file", line.file},
                             {"line", double(line.number)},
                             {"text", line.fields[size_t(columns.srgb)]}});
        out.lab = *lab;
    } else if (columns.hasColours()) {
        const auto colour = csv::colourIn(line, columns);
        if (!colour)
            return colour.error();
        // by place: names of targets need not be a chart's
        const auto beside = csv::besideIn(line, columns);
        if (!beside)
            return beside.error();
        if (const auto added = to.rows.add(std::to_string(line.number), *colour, line.number, *beside);
            !added)
            return added.error();
        to.ofRows.push_back(to.targets.size());
    } else {
        return unusable("{file}, line {line}: has no colour",
                        {{"file", line.file}, {"line", double(line.number)}});
    }
    to.targets.push_back(std::move(out));
    return Done{};
}

Result<std::vector<ProbeTarget>> targetsFromCsv(const std::string &text, const std::string &name,
                                                TableReading *how)
{
    const auto rows = csv::rowsOf(text, name);
    if (!rows)
        return rows.error();
    const auto &header = rows->front();
    const auto columns = csv::columnsOf(header, name);
    if (!columns)
        return columns.error();
    if (columns->ids.empty())
        return csv::columnsMissing(name, header, words::said("has no column called name"));
    if (columns->srgb < 0 && !columns->hasColours())
        return csv::columnsMissing(name, header,
                                   words::said("has neither L, a, b nor srgb nor X, Y, Z nor wavelengths"));
    const auto heading = headingOf(text, false, name);
    if (!heading)
        return heading.error();
    if (const auto sound = csv::checkColours(*rows, *columns, name); !sound)
        return sound.error();
    CsvTargets out{{}, {}, ReferenceRows(name)};
    out.rows.setHeading(*heading, columns->hasLab());
    for (size_t i = 1; i < rows->size(); ++i)
        if (const auto added =
                addTarget(out, {name, (*rows)[i].number, (*rows)[i].fields, header.fields}, *columns);
            !added)
            return added.error();
    const auto colours = out.rows.colours();
    if (!colours)
        return colours.error();
    for (size_t i = 0; i < out.ofRows.size(); ++i)
        out.targets[out.ofRows[i]].lab = labFromXyz((*colours)[i].second);
    if (how)
        *how = out.ofRows.empty() ? TableReading{TableReading::Kind::Srgb, false, {}} : out.rows.reading();
    return out.targets;
}

/// Colours of a table or a document by their names.
Result<std::vector<ProbeTarget>> targetsOf(const Result<std::vector<std::pair<std::string, Xyz>>> &colours)
{
    if (!colours)
        return colours.error();
    std::vector<ProbeTarget> out;
    for (const auto &[id, xyz] : *colours)
        out.push_back({id, labFromXyz(xyz)});
    return out;
}

Result<Done> checkTargets(const std::vector<ProbeTarget> &targets, const std::string &file)
{
    std::set<std::string> names;
    for (const auto &target : targets) {
        if (target.name.empty())
            return unusable("{file}: a target has no name", {{"file", file}});
        if (!names.insert(csv::lower(target.name)).second)
            return unusable("{file}: the target {name} is there twice",
                            {{"file", file}, {"name", target.name}});
        if (const auto fault = labFault(target.lab.l, target.lab.a, target.lab.b); !fault.empty())
            return unusable("{file}: {name}: {reason}",
                            {{"file", file}, {"name", target.name}, {"reason", fault}});
        if (target.tolerance && !(*target.tolerance > 0))
            return unusable("{file}: the tolerance of {name} must be above 0",
                            {{"file", file}, {"name", target.name}});
    }
    return Done{};
}

FrameProbes frameOf(const Fields &f)
{
    FrameProbes out;
    out.image = f.path("image");
    for (const auto &p : f.objects("probes")) {
        const auto place = p.numbers("place", 3);
        Probe probe;
        probe.place = {p.text("name"), place[0], place[1], place[2]};
        if (p.has("target_lab") && !p.raw("target_lab").is_null()) {
            const auto lab = p.vector3("target_lab");
            probe.target = ProbeTarget{probe.place.name, {lab[0], lab[1], lab[2]}};
        }
        if (const auto sound = check(probe.place); !sound)
            p.fail("place", {"{where}: \"{key}\": {reason}", {{"reason", sound.error().phrase}}});
        out.probes.push_back(probe);
    }
    return out;
}

} // namespace

Result<std::vector<FrameProbes>> probesFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    std::vector<FrameProbes> out;
    for (const auto &one : document->is_array() ? *document : Json::array({*document})) {
        const auto frame = readDocument<FrameProbes>(one, "probes", name, frameOf);
        if (!frame)
            return frame.error();
        out.push_back(*frame);
    }
    return out;
}

std::string documentOf(const FrameProbes &probes)
{
    return textOf(jsonOf(probes));
}

std::string documentOf(const std::vector<FrameProbes> &frames)
{
    Json out = Json::array();
    for (const auto &frame : frames)
        out.push_back(jsonOf(frame));
    return textOf(out);
}

std::string documentOf(const std::vector<ProbeTarget> &targets)
{
    Json all = Json::array();
    for (const auto &target : targets) {
        Json one{{"name", target.name}, {"lab", arrayOf(target.lab)}};
        if (target.tolerance)
            one["tolerance"] = *target.tolerance;
        all.push_back(one);
    }
    return textOf({{"schema", "wavechroma.targets/1"}, {"targets", all}});
}

Result<std::vector<ProbeTarget>> targetsFrom(const std::string &text, const std::string &name,
                                             TableReading *how)
{
    const auto first = text.find_first_not_of(" \t\r\n");
    if (first == text.npos)
        return unusable("{file}: is empty", {{"file", name}});
    const bool isCgats = letters::upper(text).find("BEGIN_DATA_FORMAT") != std::string::npos;
    auto out = isCxf(text)          ? targetsOf(cxfColours(text, name, how))
               : text[first] == '{' ? targetsFromJson(text, name)
               : isCgats            ? targetsOf(cgatsColours(text, name, how))
                                    : targetsFromCsv(text, name, how);
    if (!out)
        return out;
    const auto sound = checkTargets(*out, name);
    return sound ? out : sound.error();
}

std::optional<Lab> labFromSrgbHex(const std::string &text)
{
    const auto hex = csv::lower(text);
    if (hex.size() != 7 || hex[0] != '#')
        return std::nullopt;
    Vector3 linear{};
    for (size_t c = 0; c < 3; ++c) {
        int code = 0;
        const char *const from = hex.data() + 1 + 2 * c;
        const auto read = std::from_chars(from, from + 2, code, 16);
        if (read.ec != std::errc() || read.ptr != from + 2)
            return std::nullopt;
        linear[c] = linearised(Transfer::Srgb, code / 255.0);
    }
    return labFromXyz(xyzOf(xyzD50FromRgbMatrix(srgb()) * linear));
}

Result<Lab> colourFromText(const std::string &text)
{
    if (const auto lab = labFromSrgbHex(text))
        return *lab;
    std::string plain = text;
    for (char &c : plain)
        if (c == ';' || c == '\t')
            c = ' ';
    std::istringstream in(plain);
    std::vector<double> numbers;
    for (std::string part; in >> part;) {
        if (part.size() > 1 && part.back() == ',')
            part.pop_back();
        const auto number = csv::numberIn(part);
        if (!number)
            return unusable(
                "\"{text}\" is not a colour. Give L*, a*, b* separated by spaces, or #rrggbb in sRGB",
                {{"text", text}});
        numbers.push_back(*number);
    }
    if (numbers.size() != 3)
        return unusable("\"{text}\" is not a colour. Give L*, a*, b* separated by spaces, or #rrggbb in sRGB",
                        {{"text", text}});
    if (const auto fault = labFault(numbers[0], numbers[1], numbers[2]); !fault.empty())
        return unusable(fault);
    return Lab{numbers[0], numbers[1], numbers[2]};
}

Result<Done> check(const ProbePlace &place)
{
    if (place.name.empty())
        return unusable("a place has no name");
    if (!std::isfinite(place.x) || !std::isfinite(place.y))
        return unusable("the place {name} has no position", {{"name", place.name}});
    if (!(place.radius > 0) || !(place.radius < 1e6))
        return unusable("the place {name} needs a radius above 0 and below 1000000 pixels",
                        {{"name", place.name}});
    return Done{};
}

Result<std::vector<std::pair<std::string, ProbePlace>>> placesFrom(const std::string &text,
                                                                   const std::string &name)
{
    const auto rows = csv::rowsOf(text, name);
    if (!rows)
        return rows.error();
    const auto &header = rows->front();
    const auto column = [&](const char *wanted) {
        for (size_t i = 0; i < header.fields.size(); ++i)
            if (csv::lower(header.fields[i]) == wanted)
                return int(i);
        return -1;
    };
    const int image = column("image"), id = column("name"), x = column("x"), y = column("y"), r = column("r");
    if (std::min({id, x, y, r}) < 0)
        return csv::columnsMissing(name, header, words::said("has no columns called name, x, y and r"));
    std::vector<std::pair<std::string, ProbePlace>> out;
    for (size_t i = 1; i < rows->size(); ++i) {
        const auto &row = (*rows)[i];
        const csv::Line line{name, row.number, row.fields, header.fields};
        const auto at = line.triple({x, y, r});
        if (!at)
            return at.error();
        const ProbePlace place{row.fields[size_t(id)], (*at)[0], (*at)[1], (*at)[2]};
        if (const auto sound = check(place); !sound)
            return unusable("{file}, line {line}: {reason}",
                            {{"file", name}, {"line", double(row.number)}, {"reason", sound.error().phrase}});
        out.emplace_back(image >= 0 ? row.fields[size_t(image)] : std::string(), place);
    }
    if (out.empty())
        return unusable("{file}: has no places", {{"file", name}});
    return out;
}

std::string csvOf(const std::vector<FrameProbes> &frames)
{
    std::string out = "image,name,x,y,r,n,L,a,b,foretold_error,target_L,target_a,target_b,de00,within,why\n";
    for (const auto &frame : frames)
        for (const auto &p : frame.probes) {
            out += fmt::format("{},{},{},{},{},{}", csvField(frame.image), csvField(p.place.name), p.place.x,
                               p.place.y, p.place.radius, p.count);
            out += p.lab ? fmt::format(",{:.4f},{:.4f},{:.4f}", p.lab->l, p.lab->a, p.lab->b) : ",,,";
            out += p.foretold ? fmt::format(",{:.3f}", *p.foretold) : ",";
            out += p.target ? fmt::format(",{:.4f},{:.4f},{:.4f}", p.target->lab.l, p.target->lab.a,
                                          p.target->lab.b)
                            : ",,,";
            out += p.within ? fmt::format(",{:.4f},{}", p.de00, *p.within ? "yes" : "no") : ",,";
            out += "," + p.why + "\n";
        }
    return out;
}

} // namespace wavechroma
