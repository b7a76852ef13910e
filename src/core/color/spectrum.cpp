#include "core/color/spectrum.h"

#include "core/base/csv_table.h"
#include "embedded/cie1931Csv.h"

#include <algorithm>
#include <cmath>

namespace wavechroma {

double Spectrum::at(double nm) const
{
    const double position = std::clamp((nm - startNm) / stepNm, 0.0, double(values.size() - 1));
    const size_t below = std::min(size_t(position), values.size() - 2);
    const double part = position - double(below);
    return values[below] * (1 - part) + values[below + 1] * part;
}

Spectrum onGrid(const Spectrum &spectrum)
{
    return spectrumFrom([&](double nm) { return spectrum.at(nm); });
}

const ColorMatching &cie1931()
{
    static const ColorMatching functions = [] {
        const auto table = parseNumberTable(embedded::cie1931Csv, "CIE 1931 table");
        const auto column = [&](size_t c) {
            Spectrum s{table->rows[0][0], table->rows[1][0] - table->rows[0][0], {}};
            for (const auto &row : table->rows)
                s.values.push_back(row[c]);
            return s;
        };
        return ColorMatching{column(1), column(2), column(3)};
    }();
    return functions;
}

static Xyz weightedSum(const Spectrum &light, const Spectrum *reflectance)
{
    const auto &cmf = cie1931();
    Xyz sum;
    double white = 0;
    for (size_t i = 0; i < kGridSize; ++i) {
        const double nm = kGridStartNm + kGridStepNm * double(i);
        const double power = light.at(nm);
        const double reflected = reflectance ? power * reflectance->at(nm) : power;
        sum.x += reflected * cmf.x.values[i];
        sum.y += reflected * cmf.y.values[i];
        sum.z += reflected * cmf.z.values[i];
        white += power * cmf.y.values[i];
    }
    return {sum.x / white, sum.y / white, sum.z / white};
}

Xyz xyzFromLight(const Spectrum &light)
{
    return weightedSum(light, nullptr);
}

Xyz xyzFromReflectance(const Spectrum &reflectance, const Spectrum &light)
{
    return weightedSum(light, &reflectance);
}

Xyz xyzD50FromReflectance(const Spectrum &reflectance, const Spectrum &light)
{
    const Xyz color = xyzFromReflectance(reflectance, light), white = xyzFromLight(light);
    return {color.x / white.x * kD50White.x, color.y / white.y * kD50White.y,
            color.z / white.z * kD50White.z};
}

Result<Spectrum> parseSpectrum(std::string_view text, const std::string &name)
{
    const auto table = parseNumberTable(text, name);
    if (!table)
        return table.error();
    const auto &rows = table->rows;
    if (rows.size() < 4 || rows[0].size() < 2)
        return unusable("{file}: a spectrum needs at least 4 lines of \"nm,value\"", {{"file", name}});
    Spectrum spectrum{rows[0][0], rows[1][0] - rows[0][0], {}};
    double total = 0;
    for (size_t i = 0; i < rows.size(); ++i) {
        const double expected = spectrum.startNm + spectrum.stepNm * double(i);
        if (!(spectrum.stepNm > 0) || std::abs(rows[i][0] - expected) > 0.01)
            return unusable("{file}: the wavelengths must rise in equal steps; {nm:g} nm breaks the row",
                            {{"file", name}, {"nm", rows[i][0]}});
        if (rows[i][1] < 0)
            return unusable("{file}: negative value at {nm:g} nm", {{"file", name}, {"nm", rows[i][0]}});
        spectrum.values.push_back(rows[i][1]);
    }
    for (double nm = kGridStartNm; nm <= 780; nm += kGridStepNm)
        total += spectrum.at(nm);
    if (spectrum.startNm > 430 || spectrum.endNm() < 670)
        return unusable("{file}: covers less than 430 to 670 nm", {{"file", name}});
    if (!(total > 0))
        return unusable("{file}: no power between 380 and 780 nm", {{"file", name}});
    return spectrum;
}

} // namespace wavechroma
