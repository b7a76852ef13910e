#pragma once
#include "core/fit/fit.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"

/// Makes, for this folder's tests, a calibration fitted to a noiseless simulated reading.
namespace wavechroma::testing {

inline Reading sampleReading(const sim::Camera &camera, const std::string &lamp)
{
    const auto &light = sim::lamp(lamp).spectrum;
    const auto reflectances = sim::chartReflectances(chartCatalogue().front());
    const double scale = 0.7 / sim::response(camera, camera.lenses[0], light, sim::flatReflectance(1))[1];
    Reading reading;
    reading.image = "frames/sample.dng";
    reading.chart = "classic-24";
    reading.found = true;
    reading.confidence = 0.9;
    reading.width = 6000;
    reading.height = 4000;
    reading.corners = {PixelPoint{1000.25, 900}, {4000, 950}, {3990, 2900}, {1010, 2880}};
    reading.camera = {camera.make,
                      camera.model,
                      camera.serial,
                      camera.lenses[0].name,
                      100,
                      0.01,
                      8,
                      "2026-10-14T09:22:41",
                      camera.make + " " + camera.model};
    reading.fileColor = {{{sim::publishedColorMatrix(camera), 21}}, Vector3{0.5, 1, 0.6}};
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = sim::response(camera, camera.lenses[0], light, reflectances[i]);
        reading.patches.push_back({chartCatalogue().front().patches[i].id,
                                   {rgb[0] * scale, rgb[1] * scale, rgb[2] * scale},
                                   {0.004, 0.003, 0.005},
                                   4200,
                                   0,
                                   0});
    }
    return reading;
}

inline Reading sampleReading(const std::string &model = "Tarn 2", const std::string &lamp = "led")
{
    return sampleReading(sim::camera(model), lamp);
}

inline Calibration sampleCalibration(const std::string &model = "Tarn 2", const std::string &lamp = "led")
{
    auto c = *fitCalibration(sampleReading(model, lamp), chartCatalogue().front());
    c.name = "Tarn 2, 60 mm, Ärmel & “north” light";
    c.madeFrom = {{"frames/sample.dng", std::string(64, 'a')}};
    c.madeWith = "Wavechroma test";
    return c;
}

} // namespace wavechroma::testing
