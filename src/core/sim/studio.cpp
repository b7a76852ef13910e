#include "core/sim/studio.h"

#include "core/base/least_squares.h"
#include "core/color/illuminant.h"
#include "core/sim/reflectance.h"

#include <Eigen/Core>
#include <cmath>
#include <stdexcept>

namespace wavechroma::sim {

namespace {

double bell(double nm, double peak, double leftNm, double rightNm)
{
    const double d = (nm - peak) / (nm < peak ? leftNm : rightNm);
    return std::exp(-0.5 * d * d);
}

/// Infrared blocking: falls off round `edgeNm`.
double infraredCut(double nm, double edgeNm, double widthNm)
{
    return 1 / (1 + std::exp((nm - edgeNm) / widthNm));
}

Lens lensOf(const std::string &name, double yellowing, double vignetting)
{
    return {name, spectrumFrom([=](double nm) { return 1 - yellowing * std::exp(-(nm - 380) / 55); }),
            vignetting};
}

Camera tarn2()
{
    Camera c;
    c.make = "Skerrow";
    c.model = "Tarn 2";
    c.serial = "SK20417";
    c.width = 6000;
    c.height = 4000;
    c.sensitivity = {
        spectrumFrom([](double nm) {
            return infraredCut(nm, 675, 10) * (0.92 * bell(nm, 612, 22, 42) + 0.055 * bell(nm, 452, 30, 40) +
                                               0.06 * bell(nm, 545, 28, 24));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 675, 10) *
                   (bell(nm, 534, 36, 37) + 0.07 * bell(nm, 455, 30, 30) + 0.06 * bell(nm, 640, 30, 30));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 675, 10) * (0.86 * bell(nm, 460, 26, 28) + 0.05 * bell(nm, 540, 30, 30) +
                                               0.012 * bell(nm, 620, 40, 40));
        })};
    c.filter = {0, 1, 1, 2};
    c.black = 512;
    c.white = 15892;
    c.fullWell = 52000;
    c.readNoise = 4.2;
    c.lenses = {lensOf("Skerrow 60 mm f/2.8", 0.10, 0.12), lensOf("Skerrow 105 mm macro", 0.28, 0.05)};
    return c;
}

Camera marram8()
{
    Camera c;
    c.make = "Dunlin Optical";
    c.model = "Marram 8";
    c.serial = "0081133";
    c.width = 4800;
    c.height = 3600;
    c.sensitivity = {
        spectrumFrom([](double nm) {
            return infraredCut(nm, 690, 8) * (0.80 * bell(nm, 614, 24, 40) + 0.07 * bell(nm, 440, 22, 30) +
                                              0.04 * bell(nm, 540, 30, 30));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 690, 8) * (0.95 * bell(nm, 541, 40, 38) + 0.09 * bell(nm, 470, 26, 26));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 690, 8) * (0.93 * bell(nm, 454, 24, 34) + 0.03 * bell(nm, 560, 40, 40));
        })};
    c.filter = {1, 2, 0, 1};
    c.black = 1023;
    c.white = 16383;
    c.fullWell = 61000;
    c.readNoise = 3.1;
    c.lenses = {lensOf("Dunlin 80 mm f/4", 0.06, 0.08), lensOf("Dunlin 120 mm f/4 macro", 0.18, 0.04)};
    return c;
}

Camera ospreyMini()
{
    Camera c;
    c.make = "Fellgate";
    c.model = "Osprey Mini";
    c.serial = "OM-5526-W";
    c.width = 4032;
    c.height = 3024;
    c.sensitivity = {
        spectrumFrom([](double nm) {
            return infraredCut(nm, 650, 9) * (0.74 * bell(nm, 640, 22, 30) + 0.05 * bell(nm, 525, 50, 40) +
                                              0.16 * bell(nm, 440, 30, 30));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 650, 9) *
                   (bell(nm, 516, 26, 32) + 0.30 * bell(nm, 640, 30, 40) + 0.14 * bell(nm, 450, 30, 30));
        }),
        spectrumFrom([](double nm) {
            return infraredCut(nm, 650, 9) * (0.82 * bell(nm, 476, 30, 26) + 0.12 * bell(nm, 540, 40, 40) +
                                              0.10 * bell(nm, 640, 40, 40));
        })};
    c.filter = {2, 1, 1, 0};
    c.black = 64;
    c.white = 1023;
    c.fullWell = 6200;
    c.readNoise = 2.4;
    c.lenses = {lensOf("wide module 26 mm f/1.8", 0.14, 0.30), lensOf("main module 52 mm f/2", 0.08, 0.18)};
    return c;
}

Lamp led()
{
    return {"led", spectrumFrom([](double nm) {
                return 0.95 * bell(nm, 452, 9, 11) + 0.62 * bell(nm, 575, 48, 58) +
                       0.05 * bell(nm, 480, 14, 24);
            })};
}

Lamp tube()
{
    return {"tube", spectrumFrom([](double nm) {
                return 0.30 * bell(nm, 480, 40, 45) + 0.60 * bell(nm, 580, 40, 44) +
                       0.35 * bell(nm, 405, 4, 4) + 1.10 * bell(nm, 436, 4, 4) + 1.25 * bell(nm, 546, 4, 4) +
                       0.45 * bell(nm, 578, 5, 5) + 0.50 * bell(nm, 611, 5, 6);
            })};
}

Lamp strobe()
{
    const auto base = planckian(5900);
    return {"strobe", spectrumFrom([&](double nm) {
                return base.at(nm) / 100 * (1 - 0.25 * bell(nm, 380, 5, 18)) +
                       0.05 * (bell(nm, 467, 3, 3) + bell(nm, 473, 3, 3) + bell(nm, 484, 3, 4) +
                               bell(nm, 711, 4, 4));
            })};
}

} // namespace

const std::vector<Camera> &cameras()
{
    static const std::vector<Camera> all{tarn2(), marram8(), ospreyMini()};
    return all;
}

const std::vector<Lamp> &lamps()
{
    static const std::vector<Lamp> all{
        {"daylight", daylight(5450)}, {"tungsten", planckian(2950)}, strobe(), led(), tube()};
    return all;
}

const Lamp &lamp(const std::string &name)
{
    for (const auto &l : lamps())
        if (l.name == name)
            return l;
    throw std::invalid_argument("no such lamp in the simulated studio: " + name);
}

const Camera &camera(const std::string &model)
{
    for (const auto &c : cameras())
        if (c.model == model)
            return c;
    throw std::invalid_argument("no such camera in the simulated studio: " + model);
}

Vector3 response(const Camera &camera, const Lens &lens, const Spectrum &lamp, const Spectrum &reflectance)
{
    Vector3 sum{};
    for (size_t i = 0; i < kGridSize; ++i) {
        const double nm = kGridStartNm + kGridStepNm * double(i);
        const double light = lamp.at(nm) * lens.transmission.at(nm) * reflectance.at(nm);
        for (size_t c = 0; c < 3; ++c)
            sum[c] += light * camera.sensitivity[c].at(nm);
    }
    return sum;
}

/// Another body of the same type: filters vary by a few nanometres from batch to batch.
static Camera makersSample(Camera camera)
{
    constexpr double kShiftNm[] = {-3, 2, 2.5};
    for (size_t c = 0; c < 3; ++c) {
        const auto original = camera.sensitivity[c];
        camera.sensitivity[c] = spectrumFrom([&](double nm) { return original.at(nm + kShiftNm[c]); });
    }
    return camera;
}

Matrix3 publishedColorMatrix(const Camera &body)
{
    const auto camera = makersSample(body);
    const auto d65 = illuminantD65();
    std::vector<Spectrum> surfaces = chartReflectances(chartCatalogue().front(), 900);
    for (const auto &yarn : yarns())
        surfaces.push_back(yarn.reflectance);
    Eigen::MatrixXd xyz(surfaces.size(), 3), rgb(surfaces.size(), 3);
    for (size_t i = 0; i < surfaces.size(); ++i) {
        const auto c = xyzFromReflectance(surfaces[i], d65);
        const auto r = response(camera, camera.lenses.front(), d65, surfaces[i]);
        xyz.row(Eigen::Index(i)) << c.x, c.y, c.z;
        rgb.row(Eigen::Index(i)) << r[0], r[1], r[2];
    }
    const Eigen::Matrix3d m = leastSquares(xyz, rgb).transpose();
    const Eigen::Vector3d white = m * Eigen::Vector3d(0.9642, 1, 0.8249);
    Matrix3 out;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            out(i, j) = m(i, j) / white.maxCoeff(); // the DNG specification's scale: D50 white just reaches 1
    return out;
}

} // namespace wavechroma::sim
