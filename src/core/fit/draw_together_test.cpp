#include "core/color/de2000.h"
#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/fit/draw_together.h"
#include "core/fit/fit.h"
#include "core/sim/reflectance.h"
#include "core/sim/scene.h"
#include "core/sim/studio.h"
#include "support/classic_chart.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Stations drawn together, on simulated cameras and yarns that no fit has seen.
class DrawTogetherTest : public QObject
{
    Q_OBJECT
private slots:
    void unseenThingsComeCloserAndTruthIsKept_data();
    void unseenThingsComeCloserAndTruthIsKept();
    void agreementIsNotBoughtWithTruth();
    void aLeaderStaysAndTheOthersCome();
    void whatTheyCannotTellStaysApart();
    void greysStayGrey();
    void whatCannotBeDrawnIsRefused();
};

namespace {

struct Pair
{
    const char *camera, *lamp;
};
constexpr Pair kPairs[] = {{"Tarn 2", "tungsten"}, {"Marram 8", "led"}, {"Osprey Mini", "daylight"}};

Vector3 seenBy(const Pair &pair, const Spectrum &reflectance)
{
    const auto &body = sim::camera(pair.camera);
    const auto &light = sim::lamp(pair.lamp).spectrum;
    const double scale = 0.7 / sim::response(body, body.lenses[0], light, sim::flatReflectance(1))[1];
    auto rgb = sim::response(body, body.lenses[0], light, reflectance);
    for (auto &v : rgb)
        v *= scale;
    return rgb;
}

Reading readingOf(const Pair &pair)
{
    Reading out;
    out.image = std::string(pair.camera) + pair.lamp;
    out.chart = "classic-24";
    out.found = true;
    out.fileColor = {{{sim::publishedColorMatrix(sim::camera(pair.camera)), 21}}, Vector3{0.5, 1, 0.6}};
    const auto reflectances = sim::chartReflectances(testing::classicChart());
    for (size_t i = 0; i < reflectances.size(); ++i) {
        const auto rgb = seenBy(pair, reflectances[i]);
        out.patches.push_back({testing::classicChart().patches[i].id,
                               {rgb[0], rgb[1], rgb[2]},
                               {0.004, 0.003, 0.005},
                               4200,
                               0,
                               0});
    }
    return out;
}

std::vector<DrawnStation> stationsOf(const Parts &parts)
{
    std::vector<DrawnStation> out;
    for (const auto &pair : kPairs) {
        FitOptions options;
        options.parts = parts;
        options.crossValidate = false;
        const auto reading = readingOf(pair);
        DrawnStation station;
        station.patches = fitCalibration(reading, testing::classicChart(), options)->patches;
        station.fit = [reading, options](const std::set<std::string> &without) -> std::optional<ColorModel> {
            auto less = options;
            less.without.assign(without.begin(), without.end());
            const auto fitted = fitCalibration(reading, testing::classicChart(), less);
            return fitted ? std::optional<ColorModel>(*fitted) : std::nullopt;
        };
        out.push_back(std::move(station));
    }
    return out;
}

std::vector<Spectrum> surfaces(uint64_t seed, int count)
{
    std::vector<Spectrum> out;
    for (uint64_t i = 0; int(out.size()) < count; ++i) {
        const double hue = double(i) * 2.4, chroma = 10 + 8 * double(i % 5);
        const auto one = sim::reflectanceOf(
            {30 + 9 * double(i % 6), chroma * std::cos(hue), chroma * std::sin(hue)}, (seed + i) * 7919);
        if (one)
            out.push_back(*one);
    }
    return out;
}

std::vector<SharedThing> thingsOf(const std::vector<Spectrum> &spectra)
{
    std::vector<SharedThing> out;
    for (const auto &spectrum : spectra) {
        SharedThing thing{"thing " + std::to_string(out.size()), {}};
        for (const auto &pair : kPairs) {
            const auto rgb = seenBy(pair, spectrum);
            thing.rgb.emplace_back(CameraRgb{rgb[0], rgb[1], rgb[2]});
        }
        out.push_back(thing);
    }
    return out;
}

double spreadOn(const std::vector<Spectrum> &spectra, const std::vector<ColorModel> &models)
{
    double sum = 0;
    int pairs = 0;
    for (const auto &thing : thingsOf(spectra))
        for (size_t a = 0; a < models.size(); ++a)
            for (size_t b = 0; b < a; ++b, ++pairs)
                sum += de2000(labFromXyz(xyzFromCamera(models[a], *thing.rgb[a])),
                              labFromXyz(xyzFromCamera(models[b], *thing.rgb[b])));
    return sum / pairs;
}

} // namespace

void DrawTogetherTest::unseenThingsComeCloserAndTruthIsKept_data()
{
    QTest::addColumn<QString>("colour");
    QTest::newRow("matrix") << "matrix";
    QTest::newRow("roots") << "roots";
}

void DrawTogetherTest::unseenThingsComeCloserAndTruthIsKept()
{
    QFETCH(QString, colour);
    const auto stations = stationsOf({colour.toStdString(), "as-shot"});
    std::vector<ColorModel> own;
    for (const auto &station : stations)
        own.push_back(*station.fit({}));
    const auto drawn = drawTogether(stations, thingsOf(surfaces(1, 24)), 0.1);
    QVERIFY2(bool(drawn), drawn ? "" : drawn.error().message.c_str());
    QVERIFY(drawn->weight > 0 && drawn->after < drawn->before && drawn->thingsAfter < drawn->thingsBefore);
    for (const auto &station : drawn->stations)
        QVERIFY(station.after <= 1.1 * station.before + 1e-9);
    const auto unseen = surfaces(900, 40); // of other spectra
    const double before = spreadOn(unseen, own), after = spreadOn(unseen, drawn->models);
    QVERIFY2(after < before, qPrintable(QString("%1 %2").arg(before).arg(after)));
    QCOMPARE(drawn->curve.size(), size_t(7));
    // who may give up nothing gets back what he had, or what is better for him too
    const auto kept = drawTogether(stations, {}, 0);
    QVERIFY(kept && (kept->weight > 0 || kept->models == own));
    for (const auto &station : kept->stations)
        QVERIFY(station.after <= station.before + 1e-9);
}

/// Colours that are all made paler lie nearer together too: whatever a station may give up on its chart,
/// things that nobody saw stay as true as they were.
void DrawTogetherTest::agreementIsNotBoughtWithTruth()
{
    const auto stations = stationsOf(plainParts());
    const auto drawn = drawTogether(stations, thingsOf(surfaces(1, 36)), 1);
    QVERIFY(drawn && drawn->weight > 0);
    const auto unseen = surfaces(900, 40);
    const auto things = thingsOf(unseen);
    double before = 0, after = 0;
    for (size_t i = 0; i < things.size(); ++i) {
        const auto truth = labFromXyz(xyzD50FromReflectance(unseen[i], illuminantD50()));
        for (size_t s = 0; s < stations.size(); ++s) {
            before += de2000(truth, labFromXyz(xyzFromCamera(*stations[s].fit({}), *things[i].rgb[s])));
            after += de2000(truth, labFromXyz(xyzFromCamera(drawn->models[s], *things[i].rgb[s])));
        }
    }
    QVERIFY2(after < 1.03 * before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
}

/// The house standard keeps its model to the last digit; the others' unseen things come nearer to its.
void DrawTogetherTest::aLeaderStaysAndTheOthersCome()
{
    auto stations = stationsOf(plainParts());
    stations[0].isLeader = true;
    const auto drawn = drawTogether(stations, thingsOf(surfaces(1, 24)), 0.2);
    QVERIFY2(drawn && drawn->weight > 0, drawn ? "nothing was drawn" : drawn.error().message.c_str());
    std::vector<ColorModel> own;
    for (const auto &station : stations)
        own.push_back(*station.fit({}));
    double before = 0, after = 0;
    for (const auto &thing : thingsOf(surfaces(500, 24)))
        for (size_t s = 0; s < stations.size(); ++s) {
            const auto lab = [&](const ColorModel &model) {
                return labFromXyz(xyzFromCamera(model, *thing.rgb[s]));
            };
            if (s == 0) {
                QVERIFY(de2000(lab(own[0]), lab(drawn->models[0])) < 1e-5);
                continue;
            }
            const auto standard = labFromXyz(xyzFromCamera(own[0], *thing.rgb[0]));
            before += de2000(standard, lab(own[s]));
            after += de2000(standard, lab(drawn->models[s]));
        }
    QVERIFY2(after < 0.97 * before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
}

/// A thing that one of them sees as another colour stays apart where agreement is all, and ordinary ones do
/// not.
void DrawTogetherTest::whatTheyCannotTellStaysApart()
{
    const auto stations = stationsOf(plainParts());
    auto things = thingsOf(surfaces(1, 24));
    const size_t odd = 3, other = 10;
    things[odd].rgb[1] = things[other].rgb[1];
    const auto drawn = drawTogether(stations, things, 0.03);
    QVERIFY(bool(drawn));
    const auto apart = [&](const SharedThing &thing, const ColorModel &a, const ColorModel &b) {
        return de2000(labFromXyz(xyzFromCamera(a, *thing.rgb[0])),
                      labFromXyz(xyzFromCamera(b, *thing.rgb[1])));
    };
    const auto own0 = *stations[0].fit({}), own1 = *stations[1].fit({});
    double before = 0, after = 0;
    for (size_t i = 0; i < things.size(); ++i)
        if (i != odd) {
            before += apart(things[i], own0, own1);
            after += apart(things[i], drawn->nearest[0], drawn->nearest[1]);
        }
    QVERIFY2(after < before, qPrintable(QString("%1 of %2").arg(after).arg(before)));
    QVERIFY(apart(things[odd], drawn->nearest[0], drawn->nearest[1]) > 5);
}

void DrawTogetherTest::greysStayGrey()
{
    const auto stations = stationsOf({"roots", "as-shot"});
    const auto drawn = drawTogether(stations, thingsOf(surfaces(1, 24)), 0.3);
    QVERIFY(drawn && drawn->weight > 0);
    for (const auto &model : drawn->models)
        for (const double level : {0.05, 0.4, 1.0}) {
            const auto lab = labFromXyz(xyzFromBalanced(model, {level, level, level}));
            QVERIFY2(std::hypot(lab.a, lab.b) < 1e-6, qPrintable(QString::number(lab.a)));
        }
}

void DrawTogetherTest::whatCannotBeDrawnIsRefused()
{
    auto stations = stationsOf(plainParts());
    QVERIFY(!drawTogether({stations[0]}, {}, 0.03));
    stations[1].fit = [](const std::set<std::string> &) { return std::optional<ColorModel>(); };
    QVERIFY(!drawTogether(stations, {}, 0.03));
    std::atomic<bool> stop = true;
    Progress progress;
    progress.cancelled = &stop;
    QVERIFY(!drawTogether(stationsOf(plainParts()), {}, 0.03, progress));
}

static const testing::Registered<DrawTogetherTest> registeredDrawTogetherTest("draw_together_test");
#include "draw_together_test.moc"
