#include "core/formats/delivery_document.h"

#include "core/base/file_uri.h"
#include "core/color/rgb_space.h"
#include "core/formats/json_fields.h"
#include "core/formats/picture_file.h"

#include <algorithm>
#include <set>

namespace wavechroma {

using namespace json;

namespace {

constexpr const char *kKinds[] = {"picture", "dng", "profile", "balance", "values"};
constexpr const char *kProfileFiles[] = {"dcp", "icc", "cube"};

template <size_t N> bool isOneOf(const std::string &text, const char *const (&known)[N])
{
    return std::find(std::begin(known), std::end(known), text) != std::end(known);
}

Json pictureJson(const DeliveryForm &form)
{
    Json out{{"format", form.format}, {"space", form.space}, {"level", form.level}};
    if (form.longSide > 0)
        out["long_side"] = form.longSide;
    if (form.pixelsPerInch > 0)
        out["ppi"] = form.pixelsPerInch;
    if (form.format == "jpeg")
        out["quality"] = form.quality;
    const std::pair<const char *, bool> flags[] = {{"deflate", form.deflate},
                                                   {"sharpen", form.sharpen},
                                                   {"calm_colour", form.calmColour},
                                                   {"straighten", form.straighten}};
    for (const auto &[key, on] : flags)
        if (on)
            out[key] = true;
    return out;
}

Json jsonOf(const DeliveryForm &form)
{
    Json out{{"name", form.name}, {"kind", form.kind}};
    if (form.kind == "picture")
        out.update(pictureJson(form));
    if (form.kind == "profile" && !form.files.empty())
        out["files"] = form.files;
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
    return out;
}

std::vector<std::string> textsOr(const Fields &f, const char *key)
{
    return f.has(key) && !f.raw(key).is_null() ? f.texts(key) : std::vector<std::string>();
}

bool flagOr(const Fields &f, const char *key)
{
    return f.has(key) && f.flag(key);
}

int integerWithin(const Fields &f, const char *key, int otherwise, int least, int most)
{
    const int value = f.has(key) ? f.integer(key) : otherwise;
    if (value != otherwise && (value < least || value > most))
        f.fail(key,
               words::Phrase{"is not {least} to {most}", {{"least", double(least)}, {"most", double(most)}}});
    return value;
}

DeliveryForm formFrom(const Fields &f)
{
    DeliveryForm out;
    out.name = f.text("name");
    out.kind = f.textOr("kind", out.kind);
    out.format = f.textOr("format", out.format);
    out.space = f.textOr("space", out.space);
    out.level = f.textOr("level", out.level);
    out.longSide = integerWithin(f, "long_side", 0, 1, 100000);
    out.pixelsPerInch = f.numberOr("ppi", 0);
    out.quality = integerWithin(f, "quality", 95, 1, 100);
    out.deflate = flagOr(f, "deflate");
    out.sharpen = flagOr(f, "sharpen");
    out.calmColour = flagOr(f, "calm_colour");
    out.straighten = flagOr(f, "straighten");
    out.files = textsOr(f, "files");
    if (out.name.empty() || out.name.find('/') != out.name.npos)
        f.fail("name", "must be a name, without slashes");
    if (!isOneOf(out.kind, kKinds))
        f.fail("kind", "is not picture, dng, profile, balance or values");
    if (!pictureFormatFrom(out.format))
        f.fail("format", "is not tiff16, png16 or jpeg");
    if (!rgbSpaceFromId(out.space))
        f.fail("space", "is not srgb, display-p3, oprgb or romm");
    if (out.level != "as-shot" && out.level != "chart")
        f.fail("level", "is not as-shot or chart");
    if (out.pixelsPerInch < 0 || out.pixelsPerInch > 100000)
        f.fail("ppi", "is not 1 to 100000");
    for (const auto &file : out.files)
        if (!isOneOf(file, kProfileFiles))
            f.fail("files", "are dcp, icc and cube");
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
    out.frames = f.paths("frames");
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
            f.fail("forms", words::Phrase{"has two called {name}", {{"name", form.name}}});
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
    out["frames"] = delivery.frames.empty() ? Json(nullptr) : json::jsonOfPaths(delivery.frames);
    if (!delivery.without.empty())
        out["without"] = json::jsonOfPaths(delivery.without);
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
