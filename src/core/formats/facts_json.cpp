#include "core/formats/facts_json.h"

#include "core/color/code_curve.h"

namespace wavechroma::json {

Json jsonOf(const CameraFacts &f)
{
    Json out{{"make", f.make},
             {"model", f.model},
             {"serial", f.serial},
             {"lens", f.lens},
             {"iso", f.iso},
             {"exposure_s", f.exposureSeconds},
             {"f_number", f.fNumber},
             {"captured_at", f.capturedAt},
             {"unique_model", f.uniqueModel}};
    if (f.focalMm > 0)
        out["focal_mm"] = f.focalMm;
    if (f.balancesItself)
        out["auto_balance"] = *f.balancesItself;
    if (f.isRendered)
        out["rendered"] = true;
    return out;
}

CameraFacts factsFrom(const Fields &f)
{
    CameraFacts facts;
    facts.make = f.textOr("make", "");
    facts.model = f.textOr("model", "");
    facts.serial = f.textOr("serial", "");
    facts.lens = f.textOr("lens", "");
    facts.iso = f.numberOr("iso", 0);
    facts.exposureSeconds = f.numberOr("exposure_s", 0);
    facts.fNumber = f.numberOr("f_number", 0);
    facts.capturedAt = f.textOr("captured_at", "");
    facts.uniqueModel = f.textOr("unique_model", "");
    facts.focalMm = f.numberOr("focal_mm", 0);
    if (f.has("auto_balance"))
        facts.balancesItself = f.flag("auto_balance");
    facts.isRendered = f.has("rendered") && f.flag("rendered");
    return facts;
}

Json jsonOf(const FileColor &color)
{
    Json matrices = Json::array();
    for (const auto &m : color.matrices)
        matrices.push_back(
            {{"exif_light_source", m.illuminantCode}, {"camera_from_xyz", arrayOf(m.cameraFromXyz)}});
    Json out{{"matrices", matrices}};
    if (color.asShotNeutral)
        out["as_shot_neutral"] = arrayOf(*color.asShotNeutral);
    if (color.xyzD50FromRendered)
        out["xyz_d50_from_rendered"] = arrayOf(*color.xyzD50FromRendered);
    if (const auto &codes = color.renderedCodes; !codes.empty()) {
        const bool isOne = codes[1] == codes[0] && codes[2] == codes[0]; // as nearly always
        out["rendered_codes"] = {{"step", "L* 100/256"}, {"r", codes[0]}};
        if (!isOne) {
            out["rendered_codes"]["g"] = codes[1];
            out["rendered_codes"]["b"] = codes[2];
        }
    }
    return out;
}

static std::vector<CodeCurve> codesFrom(const Fields &fields)
{
    std::vector<CodeCurve> out;
    for (const char *channel : {"r", "g", "b"}) {
        if (!fields.has(channel) && !out.empty()) {
            out.push_back(out.front());
            continue;
        }
        out.push_back(fields.numbers(channel, kCodeCurvePoints));
        if (!isCodeCurve(out.back()))
            fields.fail(channel, "{where}: \"{key}\" is not a rising curve");
    }
    return out;
}

FileColor fileColorFrom(const Fields &fields)
{
    FileColor color;
    if (fields.has("matrices"))
        for (const auto &m : fields.objects("matrices"))
            color.matrices.push_back({m.matrix3("camera_from_xyz"), m.integer("exif_light_source")});
    if (fields.has("as_shot_neutral"))
        color.asShotNeutral = fields.vector3("as_shot_neutral");
    if (fields.has("xyz_d50_from_rendered"))
        color.xyzD50FromRendered = fields.matrix3("xyz_d50_from_rendered");
    if (fields.has("rendered_codes"))
        color.renderedCodes = codesFrom(fields.object("rendered_codes"));
    return color;
}

Json jsonOf(const ErrorSummary &s)
{
    return {{"mean", s.mean}, {"median", s.median}, {"p95", s.p95}, {"max", s.max}};
}

ErrorSummary summaryFrom(const Fields &f)
{
    return {f.number("mean"), f.number("median"), f.number("p95"), f.number("max")};
}

} // namespace wavechroma::json
