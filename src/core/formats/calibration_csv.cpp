#include "core/formats/calibration_tables.h"

#include "core/base/csv_table.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/hue_sectors.h"

#include <fmt/format.h>

namespace wavechroma {

std::string csvOf(const Calibration &c)
{
    std::string out = "quantity,R,G,B\r\n";
    const char *rows[] = {"matrix_X", "matrix_Y", "matrix_Z"};
    for (int i = 0; i < 3; ++i)
        out += fmt::format("{},{:.9g},{:.9g},{:.9g}\r\n", rows[i], c.matrix(i, 0), c.matrix(i, 1),
                           c.matrix(i, 2));
    out += fmt::format("multipliers,{:.9g},{:.9g},{:.9g}\r\n", c.multipliers[0], c.multipliers[1],
                       c.multipliers[2]);
    out += fmt::format("exposure_scale,{0:.9g},{0:.9g},{0:.9g}\r\n\r\n", c.exposureScale);
    out += "patch,camera_R,camera_G,camera_B,reference_L,reference_a,reference_b,result_L,result_a,result_b,"
           "dE00\r\n";
    for (const auto &p : c.patches) {
        const Lab wanted = labFromXyz(p.reference), got = labFromXyz(xyzFromCamera(c, p.rgb));
        out += fmt::format("{},{:.8g},{:.8g},{:.8g},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f},{:.4f}\r\n",
                           csvField(p.id), p.rgb.r, p.rgb.g, p.rgb.b, wanted.l, wanted.a, wanted.b, got.l,
                           got.a, got.b, de2000(got, wanted));
    }
    return out;
}

std::string sectorCsvOf(const Calibration &calibration)
{
    std::string out = "sector,hue_from,hue_to,hue_shift_deg,chroma_change_percent,lightness_shift\r\n";
    int number = 0;
    for (const auto &s : hueSectorsOf(calibration))
        out += fmt::format("{},{:.1f},{:.1f},{:.2f},{:.2f},{:.2f}\r\n", ++number, s.from, s.to, s.hueShift,
                           100 * (s.chromaRatio - 1), s.lightnessShift);
    return out;
}

} // namespace wavechroma
