#include "core/color/illuminant.h"

#include "core/base/csv_table.h"
#include "core/color/temperature.h"
#include "embedded/cieDaylightCsv.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace wavechroma {

static double planck(double nm, double kelvin, double c2)
{
    const double metres = nm * 1e-9;
    return std::pow(560.0 / nm, 5) * std::expm1(c2 / (560e-9 * kelvin)) / std::expm1(c2 / (metres * kelvin));
}

Spectrum illuminantA()
{
    return spectrumFrom([](double nm) { return 100 * planck(nm, 2848, 1.435e-2); });
}

Spectrum planckian(double kelvin)
{
    return spectrumFrom([&](double nm) { return 100 * planck(nm, kelvin, 1.438776877e-2); });
}

Chromaticity daylightChromaticity(double cctKelvin)
{
    const double t = std::clamp(cctKelvin, 4000.0, 25000.0), i = 1 / t;
    // CIE 15:2004, eqs. 3.3 and 3.4
    const double x = t <= 7000 ? ((-4.6070e9 * i + 2.9678e6) * i + 0.09911e3) * i + 0.244063
                               : ((-2.0064e9 * i + 1.9018e6) * i + 0.24748e3) * i + 0.237040;
    return {x, (-3.000 * x + 2.870) * x - 0.275};
}

Spectrum daylight(double cctKelvin)
{
    static const auto table = parseNumberTable(embedded::cieDaylightCsv, "CIE daylight components");
    const auto [x, y] = daylightChromaticity(cctKelvin);
    // eqs. 3.5 and 3.6; M1 and M2 are rounded to three decimals as the standard's own tables are
    const double m = 0.0241 + 0.2562 * x - 0.7341 * y;
    const double m1 = std::round(1000 * (-1.3515 - 1.7703 * x + 5.9114 * y) / m) / 1000;
    const double m2 = std::round(1000 * (0.0300 - 31.4424 * x + 30.0717 * y) / m) / 1000;
    Spectrum tens{table->rows[0][0], 10, {}};
    for (const auto &row : table->rows)
        tens.values.push_back(row[1] + m1 * row[2] + m2 * row[3]);
    return onGrid(tens); // linear between the 10 nm values, as the standard prescribes
}

Spectrum illuminantD50()
{
    return daylight(5000 * 1.4388 / 1.4380);
}

Spectrum illuminantD65()
{
    return daylight(6500 * 1.4388 / 1.4380);
}

Result<NamedLight> lightFromName(const std::string &name)
{
    const auto named = [&](const Spectrum &spectrum, int code) {
        return NamedLight{name, spectrum, chromaticityFromXyz(xyzFromLight(spectrum)), code};
    };
    if (name == "A")
        return named(illuminantA(), 17);
    const struct
    {
        const char *name;
        double kelvin;
        int code;
    } daylights[] = {{"D50", 5000, 23}, {"D55", 5500, 20}, {"D65", 6500, 21}, {"D75", 7500, 22}};
    for (const auto &d : daylights)
        if (name == d.name)
            return named(daylight(d.kelvin * 1.4388 / 1.4380), d.code);
    double kelvin = 0;
    const auto [end, fault] = std::from_chars(name.data(), name.data() + name.size(), kelvin);
    if (fault == std::errc{} && end == name.data() + name.size() - 1 && *end == 'K') {
        if (kelvin < 1500 || kelvin > 25000)
            return unusable("light {file}: temperatures from 1500K to 25000K are known", {{"file", name}});
        const auto light = named(kelvin < 4000 ? planckian(kelvin) : daylight(kelvin), 255);
        return NamedLight{light.name, light.spectrum, light.xy, exifCodeNear(light.xy)};
    }
    return unusable(
        "light \"{file}\": not A, D50, D55, D65, D75, a temperature such as 4100K, or a spectrum file",
        {{"file", name}});
}

int exifCodeNear(const Chromaticity &xy)
{
    const struct
    {
        double kelvin, duv;
        int code;
    } standards[] = {
        {2856, 0, 17}, {5003, 0.0032, 23}, {5503, 0.0033, 20}, {6504, 0.0032, 21}, {7504, 0.0031, 22}};
    const auto here = temperatureOf(xy);
    for (const auto &s : standards)
        if (std::abs(here.cctKelvin / s.kelvin - 1) < 0.03 && std::abs(here.duv - s.duv) < 0.004)
            return s.code;
    return 255;
}

} // namespace wavechroma
