// JSON documents. What is read can be written, and what was written is read back; a calibration that is read
// goes out in every form or is refused.
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

using namespace wavechroma;

namespace {

void goesOut(const Calibration &calibration)
{
    mustHold(bool(calibrationFrom(documentOf(calibration), "again")));
    (void)cameraProfileOf(calibration);
    (void)iccProfileOf(calibration);
    (void)cgatsOf(calibration);
    (void)csvOf(calibration);
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const uint8_t *data, size_t size)
{
    const std::string text(reinterpret_cast<const char *>(data), size);
    if (const auto reading = readingFrom(text, "reading"))
        mustHold(bool(readingFrom(documentOf(*reading), "again")));
    (void)readingsFrom(text, "readings");
    (void)briefReadingFrom(text, "brief");
    if (const auto balance = balanceFrom(text, "balance"))
        mustHold(bool(balanceFrom(documentOf(*balance), "again")));
    if (const auto calibration = calibrationFrom(text, "calibration"))
        goesOut(*calibration);
    if (const auto proof = proofFrom(text, "proof"))
        mustHold(bool(proofFrom(documentOf(*proof), "again")));
    if (const auto chart = chartFrom(text, "chart"))
        mustHold(bool(chartFrom(documentOf(*chart), "again")));
    (void)toleranceFrom(text, "tolerance");
    (void)deliveryFrom(text, "delivery");
    return 0;
}
