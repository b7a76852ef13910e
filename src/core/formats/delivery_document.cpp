#include "core/formats/delivery_document.h"

#include "core/base/file_uri.h"
#include "core/formats/json_fields.h"
#include "core/formats/setting_json.h"

#include <algorithm>
#include <set>

namespace wavechroma {

using namespace json;

namespace {

void addColour(Json &to, const FormColour &colour)
{
    json::addSettings(to, formColourSettings(), colour);
    if (to.contains("balance"))
        to["balance"] = writtenPath(colour.balance);
    if (colour.multipliers)
        to["balance"] = Json{{"multipliers", arrayOf(*colour.multipliers)}};
    Json lean = Json::object();
    json::addSettings(lean, formLeanSettings(), colour);
    if (lean.contains("sectors"))
        lean["sectors"] = writtenPath(colour.sectors);
    if (!lean.empty())
        to["lean"] = lean;
}

/// A preset by its file, or multipliers by themselves.
void readBalance(FormColour &to, const Fields &f)
{
    if (!f.raw("balance").is_object()) {
        to.balance = f.path("balance");
        return;
    }
    to.balance.clear();
    to.multipliers = f.object("balance").vector3("multipliers");
    for (const double factor : *to.multipliers)
        if (factor <= 0)
            f.fail("balance", "{where}: \"{key}\" has a multiplier that is not above 0");
}

void readLean(FormColour &to, const Fields &f)
{
    for (const auto &row : formLeanSettings())
        if (row.key != std::string_view("sectors"))
            json::readSetting(row, to, f);
    if (f.has("sectors"))
        to.sectors = f.path("sectors");
}

FormColour colourFrom(const Fields &f)
{
    FormColour out;
    for (const auto &row : formColourSettings())
        if (row.key != std::string_view("balance"))
            json::readSetting(row, out, f);
    if (f.has("balance"))
        readBalance(out, f);
    if (f.has("lean"))
        readLean(out, f.object("lean"));
    return out;
}

Json jsonOf(const PictureCrop &crop)
{
    if (crop.squared) {
        Json out;
        for (const auto &corner : *crop.squared) {
            out.push_back(corner.x);
            out.push_back(corner.y);
        }
        out.push_back(crop.width);
        out.push_back(crop.height);
        return out;
    }
    Json out{crop.x, crop.y, crop.width, crop.height};
    if (crop.degrees != 0)
        out.push_back(crop.degrees);
    return out;
}

std::map<std::string, PictureCrop> cropsFrom(const Fields &f)
{
    std::map<std::string, PictureCrop> out;
    for (const auto &[path, unused] : f.raw("crop").items()) {
        const auto crop = cropFrom(f.object("crop").anyNumbers(path.c_str()));
        if (!crop)
            f.fail("crop",
                   "{where}: \"{key}\" is not x, y, width, height and, if any, degrees of each frame, or "
                   "x and y of four corners, width and height");
        out[pathWritten(path)] = *crop;
    }
    return out;
}

Json jsonOf(const DeliveryForm &form)
{
    Json out{{"name", form.name}, {"kind", kFormKinds[size_t(form.kind)].id}};
    if (form.kind != FormKind::Values)
        addColour(out, form.colour);
    if (!form.folder.empty())
        out["folder"] = writtenPath(form.folder);
    for (const auto &[path, crop] : form.crops)
        out["crop"][writtenPath(path)] = jsonOf(crop);
    if (form.kind == FormKind::Picture)
        json::addSettings(out, pictureSettings(), form.picture, {"format", "space", "level", "quality"});
    if (form.kind == FormKind::Profile) {
        for (const auto file : form.profile.files)
            out["files"].push_back(profileFiles()[size_t(file)].id);
        json::addSettings(out, profileSettings(), form.profile);
    }
    return out;
}

/// The file's hash, size and time are left out of a plan.
Json jsonOf(const DeliveryReceipt &r)
{
    Json out{{"path", writtenPath(r.path)}, {"form", r.form}};
    if (!r.sha256.empty()) {
        out["sha256"] = r.sha256;
        out["bytes"] = r.bytes;
    }
    out["source"] = writtenPath(r.source);
    out["source_sha256"] = r.sourceSha256;
    out["calibration"] = r.calibration;
    out["doubts"] = r.doubts;
    if (!r.writtenAt.empty())
        out["written_at"] = r.writtenAt;
    if (!r.madeBy.empty())
        out["made_by"] = r.madeBy;
    if (!r.replaces.empty())
        out["replaces"] = r.replaces;
    if (r.isStale)
        out["stale"] = true;
    return out;
}

std::vector<std::string> textsOr(const Fields &f, const char *key)
{
    return f.has(key) && !f.raw(key).is_null() ? f.texts(key) : std::vector<std::string>();
}

template <class Rows> std::string idsOf(const Rows &rows)
{
    std::string out;
    for (const auto &row : rows)
        out += (out.empty() ? "" : ", ") + std::string(row.id);
    return out;
}

template <class Rows> auto rowNamed(const Rows &rows, const Fields &f, const char *key, const std::string &id)
{
    const auto at = std::find_if(rows.begin(), rows.end(), [&](const auto &row) { return row.id == id; });
    if (at == rows.end())
        f.fail(key, words::Phrase{"{where}: \"{key}\" is not one of {known}", {{"known", idsOf(rows)}}});
    return *at;
}

DeliveryForm formFrom(const Fields &f)
{
    DeliveryForm out;
    out.name = f.text("name");
    if (out.name.empty() || out.name.find('/') != out.name.npos)
        f.fail("name", "{where}: \"{key}\" must be a name, without slashes");
    out.kind = rowNamed(kFormKinds, f, "kind", f.textOr("kind", "picture")).kind;
    out.colour = colourFrom(f);
    if (out.kind == FormKind::Values && !(out.colour == FormColour{}))
        f.fail("kind", "{where}: values are what was measured, so their form has no colour of its own");
    if (f.has("folder"))
        out.folder = f.path("folder");
    if (f.has("crop"))
        out.crops = cropsFrom(f);
    if (!out.crops.empty() && out.kind != FormKind::Picture)
        f.fail("crop", "{where}: \"{key}\" is of finished pictures only");
    if (out.kind == FormKind::Picture)
        out.picture = json::settingsFrom(pictureSettings(), f);
    if (out.kind == FormKind::Profile) {
        out.profile = json::settingsFrom(profileSettings(), f);
        if (const auto files = textsOr(f, "files"); !files.empty()) {
            out.profile.files.clear();
            for (const auto &file : files)
                out.profile.files.push_back(rowNamed(profileFiles(), f, "files", file).file);
        }
    }
    return out;
}

DeliveryReceipt receiptFrom(const Fields &f)
{
    return {f.path("path"),
            f.textOr("form", ""),
            f.textOr("sha256", ""),
            f.countOr("bytes", 0),
            f.has("source") ? f.path("source") : "",
            f.textOr("source_sha256", ""),
            f.textOr("calibration", ""),
            textsOr(f, "doubts"),
            f.textOr("written_at", ""),
            f.textOr("made_by", ""),
            f.textOr("replaces", "")};
}

Delivery deliveryOf(const Fields &f)
{
    Delivery out;
    out.title = f.textOr("title", "");
    if (f.has("frames") && !f.raw("frames").is_null())
        out.frames = f.paths("frames");
    out.calibrations = f.paths("calibrations");
    out.without = f.paths("without");
    out.names = f.textOr("names", "");
    if (f.has("forms"))
        for (const auto &form : f.objects("forms"))
            out.forms.push_back(formFrom(form));
    if (out.forms.empty())
        out.forms = ordinaryDelivery().forms;
    std::set<std::string> names;
    for (const auto &form : out.forms)
        if (!names.insert(form.name).second)
            f.fail("forms", words::Phrase{"{where}: \"{key}\" has two called {name}", {{"name", form.name}}});
    if (f.has("receipts"))
        for (const auto &receipt : f.objects("receipts"))
            out.receipts.push_back(receiptFrom(receipt));
    if (f.has("left_out"))
        for (const auto &one : f.objects("left_out"))
            out.leftOut.push_back({one.path("path"), one.textOr("why", ""), one.textOr("form", "")});
    return out;
}

} // namespace

Delivery ordinaryDelivery()
{
    Delivery out;
    out.forms.push_back({"pictures"});
    return out;
}

std::string textOf(const DeliveryForm &form)
{
    return json::textOf(jsonOf(form));
}

std::string lineOf(const DeliveryReceipt &receipt)
{
    return jsonOf(receipt).dump(-1, ' ', false, Json::error_handler_t::replace);
}

Result<DeliveryReceipt> receiptFromLine(const std::string &line, const std::string &name)
{
    const auto document = parse(line, name);
    if (!document)
        return document.error();
    try {
        return receiptFrom(Fields(*document, name));
    } catch (const FieldFault &fault) {
        return fault.error;
    }
}

std::string documentOf(const Delivery &delivery)
{
    Json forms = Json::array(), receipts = Json::array(), leftOut = Json::array();
    for (const auto &form : delivery.forms)
        forms.push_back(jsonOf(form));
    for (const auto &receipt : delivery.receipts)
        receipts.push_back(jsonOf(receipt));
    for (const auto &one : delivery.leftOut) {
        Json out{{"path", writtenPath(one.path)}, {"why", one.why}};
        if (!one.form.empty())
            out["form"] = one.form;
        leftOut.push_back(out);
    }
    Json out{{"schema", "wavechroma.delivery/1"}, {"title", delivery.title}};
    out["frames"] = delivery.frames ? json::jsonOfPaths(*delivery.frames) : Json(nullptr);
    if (!delivery.without.empty())
        out["without"] = json::jsonOfPaths(delivery.without);
    if (!delivery.calibrations.empty())
        out["calibrations"] = json::jsonOfPaths(delivery.calibrations);
    out["forms"] = forms;
    out["names"] = delivery.names;
    out["receipts"] = receipts;
    out["left_out"] = leftOut;
    return json::textOf(out);
}

Result<Delivery> deliveryFrom(const std::string &text, const std::string &name)
{
    const auto document = parse(text, name);
    if (!document)
        return document.error();
    return readDocument<Delivery>(*document, "delivery", name, deliveryOf);
}

} // namespace wavechroma
