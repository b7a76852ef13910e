// JSON documents. What is read can be written, and what was written is read back; a calibration that is read
// goes out in every form or is refused. What costs much is done for some inputs only, chosen by what they
// hold: every parser for one in sixteen, otherwise the one whose document it says to be; profiles for one in
// sixteen.
#include "bench/fuzz/memory_file.h"
#include "core/formats/brief_reading.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/camera_profile.h"
#include "core/formats/cube_lut.h"
#include "core/formats/delivery_document.h"
#include "core/formats/documents.h"
#include "core/formats/icc_profile.h"
#include "core/formats/probe_document.h"
#include "core/formats/tolerance_sheet.h"

#include <functional>

using namespace wavechroma;

namespace {

void goesOut(const Calibration &calibration, bool inProfiles)
{
    mustHold(bool(calibrationFrom(documentOf(calibration), "again")));
    (void)cgatsOf(calibration);
    (void)csvOf(calibration);
    if (!inProfiles)
        return;
    (void)cameraProfileOf(calibration);
    (void)iccProfileOf(calibration);
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const std::string text(reinterpret_cast<const char *>(data), size);
    const size_t choice = std::hash<std::string>()(text);
    const auto isAsked = [&](const char *kind) {
        return choice % 16 == 0 || text.find(std::string("wavechroma.") + kind) != std::string::npos;
    };
    if (isAsked("reading")) {
        if (const auto reading = readingFrom(text, "reading"))
            mustHold(bool(readingFrom(documentOf(*reading), "again")));
        (void)readingsFrom(text, "readings");
        (void)briefReadingFrom(text, "brief");
    }
    if (isAsked("balance"))
        if (const auto balance = balanceFrom(text, "balance"))
            mustHold(bool(balanceFrom(documentOf(*balance), "again")));
    if (isAsked("calibration"))
        if (const auto calibration = calibrationFrom(text, "calibration"))
            goesOut(*calibration, choice / 16 % 16 == 0);
    if (isAsked("proof"))
        if (const auto proof = proofFrom(text, "proof"))
            mustHold(bool(proofFrom(documentOf(*proof), "again")));
    if (isAsked("chart"))
        if (const auto chart = chartFrom(text, "chart"))
            mustHold(bool(chartFrom(documentOf(*chart), "again")));
    if (isAsked("tolerance"))
        (void)toleranceFrom(text, "tolerance");
    if (isAsked("delivery"))
        (void)deliveryFrom(text, "delivery");
    return 0;
}
