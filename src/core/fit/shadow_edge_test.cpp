#include "core/fit/shadow_edge.h"

#include "core/chart/chart_geometry.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <functional>

using namespace wavechroma;

/// Edges of light over charts as cameras see them, without frames: which patches, how deep, and when there is
/// none.
class ShadowEdgeTest : public QObject
{
    Q_OBJECT
private slots:
    void halvesAreToldApart_data();
    void halvesAreToldApart();
    void aBandIsToldToo();
    void whatIsTakenOutIsTheShadow();
    void patchesUnderTheEdgeBelongToNeither();
    void nothingElseIsAShadow_data();
    void nothingElseIsAShadow();
    void tooLittleToTell();
};

namespace {

struct ShadedShot
{
    std::string chart = "classic-24", camera = "Tarn 2", lamp = "daylight";
    double gainX = 0, gainY = 0, veil = 0.002, noise = 0.002;
    std::function<double(double u, double v)> depth = {}; ///< 0 in the light … 1 in the shadow
    Vector3 share{0.4, 0.4, 0.4};
    uint64_t seed = 3;

    ChartDefinition definition() const { return *chartFromCatalogue(chart); }
    std::vector<PlacedPatch> patches() const
    {
        const auto def = definition();
        const auto &body = sim::camera(camera);
        const auto &light = sim::lamp(lamp).spectrum;
        const auto white =
            sim::response(body, body.lenses[0], light, spectrumFrom([](double) { return 1.0; }));
        const auto reflectances = sim::chartReflectances(def);
        const auto extent = chartExtent(def);
        sim::Random random(seed);
        std::vector<PlacedPatch> out;
        for (size_t i = 0; i < def.patches.size(); ++i) {
            const auto centre = patchCentre(def, int(i) / def.columns, int(i) % def.columns);
            const double u = 2 * centre.x / extent.x - 1, v = 2 * centre.y / extent.y - 1;
            const auto seen = sim::response(body, body.lenses[0], light, reflectances[i]);
            const double d = depth ? depth(u, v) : 0;
            double rgb[3];
            for (size_t c = 0; c < 3; ++c)
                rgb[c] =
                    ((1 + gainX * u + gainY * v) * (1 - d * (1 - share[c])) * seen[c] + veil * white[c]) /
                    white[1] * 0.7 * (1 + noise * random.normal());
            out.push_back({{def.patches[i].id, {rgb[0], rgb[1], rgb[2]}, def.patches[i].reference}, u, v});
        }
        return out;
    }
};

/// Beyond a line: its direction into the shadow, and how far it lies from the middle.
std::function<double(double, double)> beyond(double degrees, double shift)
{
    const double x = std::cos(degrees * 0.0174533), y = std::sin(degrees * 0.0174533);
    return [=](double u, double v) { return u * x + v * y > shift ? 1.0 : 0.0; };
}

} // namespace

void ShadowEdgeTest::halvesAreToldApart_data()
{
    QTest::addColumn<QString>("chart");
    QTest::addColumn<QString>("camera");
    QTest::addColumn<double>("degrees");
    QTest::addColumn<double>("stops");
    sim::Random random(2027); // draws of which none was looked at before
    for (const char *chart : {"classic-24", "double-24", "field-140"})
        for (const char *camera : {"Tarn 2", "Marram 8", "Osprey Mini"})
            for (const double stops : {0.5, 1.3, 2.6})
                QTest::addRow("%s, %s, %.1f stops", chart, camera, stops)
                    << chart << camera << random.uniform(0, 360) << stops;
}

void ShadowEdgeTest::halvesAreToldApart()
{
    QFETCH(QString, chart);
    QFETCH(QString, camera);
    QFETCH(double, degrees);
    QFETCH(double, stops);
    ShadedShot staged;
    staged.chart = chart.toStdString();
    staged.camera = camera.toStdString();
    staged.depth = beyond(degrees, 0.05);
    const double share = std::exp2(-stops);
    staged.share = {1.05 * share, share, 0.96 * share};
    staged.gainX = 0.04;
    const auto patches = staged.patches();
    const auto edge = shadowOver(patches);
    QVERIFY(edge);
    // what is left of the veil's estimate counts more the deeper the shadow is
    QVERIFY2(std::abs(edge->stops - stops) < std::max(0.1, 0.06 * stops),
             qPrintable(QString::number(edge->stops)));
    QVERIFY(edge->share[0] > edge->share[2]); // its tint
    int wrong = 0;
    for (size_t i = 0; i < patches.size(); ++i)
        wrong += edge->inside[i] != (staged.depth(patches[i].u, patches[i].v) > 0.5) && !edge->crossed[i];
    QVERIFY2(wrong <= int(patches.size()) / 24, qPrintable(QString::number(wrong)));
    const double x = std::cos(degrees * 0.0174533), y = std::sin(degrees * 0.0174533);
    QVERIFY(edge->darkU * x + edge->darkV * y > 0.3); // towards the dark
}

void ShadowEdgeTest::aBandIsToldToo()
{
    ShadedShot staged;
    staged.depth = [](double u, double) { return std::abs(u - 0.1) < 0.45 ? 1.0 : 0.0; };
    const auto patches = staged.patches();
    const auto edge = shadowOver(patches);
    QVERIFY(edge && std::abs(edge->stops - 1.32) < 0.1);
    for (size_t i = 0; i < patches.size(); ++i)
        QCOMPARE(bool(edge->inside[i]), staged.depth(patches[i].u, patches[i].v) > 0.5);
}

void ShadowEdgeTest::whatIsTakenOutIsTheShadow()
{
    ShadedShot staged;
    staged.depth = beyond(20, 0);
    const auto shaded = staged.patches();
    staged.depth = {};
    const auto clean = staged.patches(); // of the same noise
    const auto edge = shadowOver(shaded);
    QVERIFY(edge);
    const auto lit = withoutShadow(shaded, *edge);
    QVERIFY(lit.size() >= 20);
    for (const auto &patch : lit)
        for (const auto &wanted : clean)
            if (wanted.patch.id == patch.patch.id)
                QVERIFY2(std::abs(patch.patch.rgb.g - wanted.patch.rgb.g) < 0.04 * wanted.patch.rgb.g + 0.003,
                         patch.patch.id.c_str());
}

void ShadowEdgeTest::patchesUnderTheEdgeBelongToNeither()
{
    ShadedShot staged;
    staged.share = {0.3, 0.3, 0.3};
    staged.depth = [](double u, double) {
        return std::clamp((u - 0.05) / 0.3 + 0.2, 0.0, 1.0);
    }; // over column 4
    const auto patches = staged.patches();
    const auto edge = shadowOver(patches);
    QVERIFY(edge && std::abs(edge->stops - 1.74) < 0.15);
    const auto lit = withoutShadow(patches, *edge);
    for (size_t i = 0; i < patches.size(); ++i) {
        const double d = staged.depth(patches[i].u, patches[i].v);
        if (d > 0.2 && d < 0.8)
            QVERIFY2(edge->crossed[i], patches[i].patch.id.c_str());
        QCOMPARE(std::any_of(lit.begin(), lit.end(),
                             [&](const auto &p) { return p.patch.id == patches[i].patch.id; }),
                 !edge->crossed[i]);
    }
}

void ShadowEdgeTest::nothingElseIsAShadow_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    for (const auto &camera : sim::cameras())
        for (const auto &lamp : sim::lamps())
            QTest::addRow("%s, %s", camera.model.c_str(), lamp.name.c_str())
                << QString::fromStdString(camera.model) << QString::fromStdString(lamp.name);
}

/// Clean, uneven, veiled, bent light; fingers; glare.
void ShadowEdgeTest::nothingElseIsAShadow()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    ShadedShot staged;
    staged.camera = camera.toStdString();
    staged.lamp = lamp.toStdString();
    QVERIFY(!shadowOver(staged.patches()));
    staged.gainX = 0.25;
    staged.gainY = -0.1;
    QVERIFY(!shadowOver(staged.patches()));
    staged.veil = 0.05;
    QVERIFY(!shadowOver(staged.patches()));
    staged.gainX = staged.gainY = 0;
    staged.share = {0.7, 0.7, 0.7};
    staged.depth = [](double u, double v) { return (u * u + v * v) / 2; }; // a bright middle
    QVERIFY(!shadowOver(staged.patches()));
    staged.depth = {};
    auto touched = staged.patches();
    for (const size_t i : {20U, 21U})
        touched[i].patch.rgb = {0.42, 0.27, 0.15}; // two fingers
    QVERIFY(!shadowOver(touched));
    touched = staged.patches();
    for (const size_t i : {8U, 9U, 14U})
        for (double *v : {&touched[i].patch.rgb.r, &touched[i].patch.rgb.g, &touched[i].patch.rgb.b})
            *v += 0.2;
    QVERIFY(!shadowOver(touched));
}

void ShadowEdgeTest::tooLittleToTell()
{
    ShadedShot staged;
    staged.depth = beyond(0, 0);
    auto few = staged.patches();
    few.resize(12);
    QVERIFY(!likeliestShadow(few) && !shadowOver(few));
    auto grey = staged.patches();
    for (auto &patch : grey) // greys alone span no matrix
        patch.patch.reference = {0.9642 * patch.v, patch.v, 0.8249 * patch.v};
    QVERIFY(!likeliestShadow(grey));
}

static const testing::Registered<ShadowEdgeTest> registeredShadowEdgeTest("shadow_edge_test");
#include "shadow_edge_test.moc"
