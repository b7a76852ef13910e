#include "core/measure/fairly_neutral.h"
#include "core/measure/place_by_hand.h"
#include "core/measure/read_chart.h"
#include "core/sim/frame_in_memory.h"
#include "core/sim/random.h"
#include "core/sim/random_scene.h"
#include "core/sim/random_situation.h"
#include "core/sim/reflectance.h"
#include "core/sim/studio_set.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Charts beside the usual grids, lenses that bend, mishaps, and the hand's help.
class OtherChartsTest : public QObject
{
    Q_OBJECT
private slots:
    void aGreyStripIsFoundAndNamed();
    void aPlainGridIsFoundByItsSize();
    void aGreyCardIsThePlainAreaThatIsGrey();
    void noCornerOfAChartFrameIsACard();
    void anEvenFieldIsTheWholeFrame();
    void bothFacesOfACubeAreFound();
    void noOtherThingsAreACube();
    void somethingFairlyNeutralIsProposed();
    void barrelDistortionDoesNotPushWindowsOff();
    void mishapsDoNotHideTheChart_data();
    void mishapsDoNotHideTheChart();
    void threeCornersTellTheFourth();
    void farCornersAreNotDrawn();
};

namespace {

ChartDefinition named(const char *id)
{
    return *chartFromCatalogue(id);
}

struct ShotChart
{
    RawFrame frame;
    Corners corners;
    std::vector<Vector3> patches;
};

/// A chart on a plain table, 1600 × 1100 pixels.
ShotChart shown(const ChartDefinition &chart, const std::vector<Spectrum> &reflectances, double turn,
                double distortion = 0, double width = 900, double tilt = 8)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.45), 0.1, 7);
    scene.distortion = distortion;
    sim::PrintedChart printed;
    printed.chart = chart;
    for (const auto &r : reflectances)
        printed.patchMaterials.push_back(sim::addMaterial(scene, r));
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
    printed.corners = sim::cornersAt(chart, {{800, 540}, width, turn, tilt, -tilt, 4});
    scene.things.push_back(printed);
    sim::Shot shot;
    shot.width = 1600;
    shot.height = 1100;
    auto exposed = sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("daylight"), shot);
    const auto truth = exposed.charts[0];
    return {sim::rawFrameOf(std::move(exposed)), truth.corners, truth.patches};
}

double worstPixels(const Corners &a, const Corners &b)
{
    double worst = 0;
    for (size_t i = 0; i < 4; ++i)
        worst = std::max(worst, std::hypot(a[i].x - b[i].x, a[i].y - b[i].y));
    return worst;
}

} // namespace

void OtherChartsTest::aGreyStripIsFoundAndNamed()
{
    const auto chart = named("grey-strip");
    for (const double turn : {3.0, 170.0}) {
        const auto s = shown(chart, sim::chartReflectances(chart), turn);
        const auto reading = *readAnyChart(s.frame, chartCatalogue());
        QVERIFY(reading.found);
        QCOMPARE(reading.chart, std::string("grey-strip"));
        // one row says little of the perspective across it: the windows are right all the same
        const double pitch = pitchPixels(chart, *homographyFrom(chart, s.corners));
        QVERIFY2(worstPixels(reading.corners, s.corners) < 0.2 * pitch,
                 qPrintable(QString::number(worstPixels(reading.corners, s.corners) / pitch)));
        for (size_t i = 0; i < s.patches.size(); ++i)
            QVERIFY(std::abs(reading.patches[i].mean.g / s.patches[i][1] - 1) < 0.02);
    }
}

void OtherChartsTest::aPlainGridIsFoundByItsSize()
{
    // a dye house's own card: yarns on a 3 × 5 grid, colours nobody has measured
    const auto chart = named("grid-3x5");
    QVERIFY(!chart.colorsKnown);
    std::vector<Spectrum> yarns;
    for (size_t i = 0; i < 15; ++i)
        yarns.push_back(sim::yarns()[i % sim::yarns().size()].reflectance);
    const auto s = shown(chart, yarns, 6);
    const auto reading = *readChart(s.frame, chart, {{}, 0.5, true});
    QVERIFY(reading.found);
    QVERIFY2(worstPixels(reading.corners, s.corners) < 4,
             qPrintable(QString::number(worstPixels(reading.corners, s.corners))));
    for (size_t i = 0; i < 15; ++i)
        QVERIFY(std::abs(reading.patches[i].mean.g / s.patches[i][1] - 1) < 0.01);
    QVERIFY(!readAnyChart(s.frame, chartCatalogue())->found); // it is none of the catalogue's
    QVERIFY(!chartFromCatalogue("grid-0x5") && !chartFromCatalogue("grid-3x") &&
            !chartFromCatalogue("grid-101x2"));
}

void OtherChartsTest::aGreyCardIsThePlainAreaThatIsGrey()
{
    sim::StudioSettings s;
    s.subject = sim::Subject::GreyCard;
    s.shrink = 4;
    const auto frame = sim::rawFrameOf(sim::shootStudio(s));
    const auto reading = *readChart(frame, named("grey-card"));
    QVERIFY(reading.found);
    QCOMPARE(reading.patches.size(), size_t(1));
    const double expected = 0.18 * sim::exposureOf(s);
    QVERIFY2(std::abs(reading.patches[0].mean.g / expected - 1) < 0.08,
             qPrintable(QString::number(reading.patches[0].mean.g / expected)));
    for (const auto &corner : reading.corners) {
        QVERIFY(corner.x > 0.28 * frame.width && corner.x < 0.70 * frame.width);
        QVERIFY(corner.y > 0.23 * frame.height && corner.y < 0.72 * frame.height);
    }
}

void OtherChartsTest::noCornerOfAChartFrameIsACard()
{
    for (uint64_t seed = 1; seed <= 4; ++seed) {
        sim::StudioSettings s;
        s.seed = seed;
        s.shrink = 4;
        s.chartWidth = 0.3 + 0.1 * double(seed);
        s.chartTurn = 3.0 * double(seed);
        s.camera = seed % 2 ? "Tarn 2" : "Marram 8";
        QVERIFY2(!readChart(sim::rawFrameOf(sim::shootStudio(s)), named("grey-card"))->found,
                 qPrintable(QString::number(seed)));
    }
    sim::SceneRecipe recipe{77, 1800, 1200, true};
    for (recipe.seed = 77; recipe.seed < 83; ++recipe.seed) {
        sim::Shot shot;
        shot.width = 1800;
        shot.height = 1200;
        recipe.clutter = false;
        const auto frame =
            sim::rawFrameOf(sim::expose(sim::randomScene(recipe), sim::cameras()[0], sim::lamps()[0], shot));
        const auto reading = *readChart(frame, named("grey-card"));
        QVERIFY2(!reading.found, qPrintable(QString::number(recipe.seed)));
    }
}

void OtherChartsTest::anEvenFieldIsTheWholeFrame()
{
    sim::StudioSettings s;
    s.subject = sim::Subject::Board;
    s.shrink = 4;
    const auto board = sim::rawFrameOf(sim::shootStudio(s));
    const auto reading = *readChart(board, named("even-field"));
    QVERIFY(reading.found);
    QVERIFY(worstPixels(reading.corners, {PixelPoint{0, 0},
                                          {double(board.width), 0},
                                          {double(board.width), double(board.height)},
                                          {0, double(board.height)}}) < 0.2 * board.width);
    s.subject = sim::Subject::Skeins;
    QVERIFY(!readChart(sim::rawFrameOf(sim::shootStudio(s)), named("even-field"))->found);
}

namespace {

/// A cube that stands on a table, an edge towards the camera.
struct ShotCube
{
    RawFrame frame;
    std::vector<Vector3> fields; ///< row by row, left and right
    std::vector<PixelPoint> middles;
};

/// Turned about its upright edge, seen from above, rolled in the picture; lit by a key from one side and a
/// fill of another colour from the other.
ShotCube shotCube(uint64_t seed)
{
    sim::Random random(seed);
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(random.uniform(0.1, 0.6)), 0.08, 7);
    const double turn = random.uniform(28, 62) * M_PI / 180, pitch = random.uniform(4, 28) * M_PI / 180,
                 roll = random.uniform(-12, 12) * M_PI / 180, side = random.uniform(260, 620);
    const double away = random.uniform(4, 9); // sides of the cube
    const PixelPoint centre{random.uniform(620, 980), random.uniform(430, 670)};
    const auto seen = [&](double along, double height, bool isRight) {
        // the near edge stands upright at the origin, z towards the camera
        const double x = isRight ? along * std::cos(turn) : -along * std::sin(turn),
                     z = -(isRight ? along * std::sin(turn) : along * std::cos(turn));
        const double y = height - 0.5, up = y * std::cos(pitch) - z * std::sin(pitch),
                     near = y * std::sin(pitch) + z * std::cos(pitch), scale = side * away / (away - near);
        const double px = x * scale, py = -up * scale;
        return PixelPoint{centre.x + px * std::cos(roll) - py * std::sin(roll),
                          centre.y + px * std::sin(roll) + py * std::cos(roll)};
    };
    const auto quad = [&](double a, double b, double low, double high, bool isRight) {
        return std::vector<PixelPoint>{seen(a, high, isRight), seen(b, high, isRight), seen(b, low, isRight),
                                       seen(a, low, isRight)};
    };
    const double key = 1, fill = random.uniform(0.3, 0.75), warmth = random.uniform(-0.25, 0.25);
    const bool isKeyLeft = random.uniform(0, 1) < 0.5;
    const auto material = [&](double reflectance, bool isRight) {
        const bool isKey = isRight != isKeyLeft;
        Spectrum surface = sim::flatReflectance(reflectance * (isKey ? key : fill));
        for (size_t i = 0; !isKey && i < surface.values.size(); ++i)
            surface.values[i] *= 1 + warmth * (2 * double(i) / double(surface.values.size() - 1) - 1);
        return sim::addMaterial(scene, surface);
    };
    const double levels[3][2] = {{0.86, 0.86}, {0.36, 0.36}, {0.035, 0.004}};
    ShotCube out;
    const auto &body = sim::camera(random.uniform(0, 1) < 0.5 ? "Tarn 2" : "Marram 8");
    const double gap = 1.0 / 51; // of the height, between fields
    for (const bool isRight : {false, true})
        scene.things.push_back(sim::Polygon{quad(0, 1, 0, 1, isRight), material(0.05, isRight)});
    for (int row = 0; row < 3; ++row)
        for (const bool isRight : {false, true}) {
            const double high = 1 - row / 3.0 - gap / 2, low = 1 - (row + 1) / 3.0 + gap / 2;
            scene.things.push_back(sim::Polygon{quad(gap, 1 - gap, low, high, isRight),
                                                material(levels[row][isRight ? 1 : 0], isRight)});
            out.middles.push_back(seen(0.5, (low + high) / 2, isRight));
        }
    sim::Shot shot;
    shot.width = 1600;
    shot.height = 1100;
    shot.seed = seed;
    const char *lamps[] = {"daylight", "tungsten", "led", "tube"};
    out.frame =
        sim::rawFrameOf(sim::expose(scene, body, sim::lamp(lamps[size_t(random.uniform(0, 3.99))]), shot));
    return out;
}

} // namespace

void OtherChartsTest::bothFacesOfACubeAreFound()
{
    for (uint64_t seed = 1; seed <= 12; ++seed) {
        const auto cube = shotCube(seed);
        const auto reading = *readChart(cube.frame, named("grey-cube"));
        QVERIFY2(reading.found, qPrintable(QString::number(seed)));
        double worst = 0;
        const auto homography = *homographyFrom(named("grey-cube"), reading.corners);
        for (int i = 0; i < 6; ++i) {
            const auto at = homography.at(patchCentre(named("grey-cube"), i / 2, i % 2));
            const auto &is = cube.middles[size_t(i)];
            worst = std::max(worst, std::hypot(at.x - is.x, at.y - is.y));
        }
        QVERIFY2(worst < 25, qPrintable(QString("%1 %2").arg(seed).arg(worst)));
        // whites are 0.86 by 0.36 of greys in one light, on both faces
        for (const char *face : {"1", "2"}) {
            const double ratio = reading.patch(std::string("A") + face)->mean.g /
                                 reading.patch(std::string("B") + face)->mean.g;
            QVERIFY2(std::abs(ratio / (0.86 / 0.36) - 1) < 0.02, qPrintable(QString::number(seed)));
        }
    }
}

void OtherChartsTest::noOtherThingsAreACube()
{
    for (const auto subject :
         {sim::Subject::Chart, sim::Subject::Skeins, sim::Subject::Board, sim::Subject::GreyCard}) {
        sim::StudioSettings s;
        s.subject = subject;
        s.shrink = 4;
        QVERIFY(!readChart(sim::rawFrameOf(sim::shootStudio(s)), named("grey-cube"))->found);
    }
    for (sim::SceneRecipe recipe{77, 1800, 1200, true}; recipe.seed < 83; ++recipe.seed) {
        sim::Shot shot;
        shot.width = 1800;
        shot.height = 1200;
        shot.seed = recipe.seed;
        const auto frame =
            sim::rawFrameOf(sim::expose(sim::randomScene(recipe), sim::cameras()[0], sim::lamps()[0], shot));
        QVERIFY2(!readChart(frame, named("grey-cube"))->found, qPrintable(QString::number(recipe.seed)));
    }
}

void OtherChartsTest::somethingFairlyNeutralIsProposed()
{
    for (const char *body : {"Tarn 2", "Marram 8"}) {
        sim::StudioSettings s;
        s.subject = sim::Subject::Skeins;
        s.shrink = 4;
        s.camera = body;
        const auto frame = sim::rawFrameOf(sim::shootStudio(s));
        const auto places = measure::fairlyNeutral(frame);
        QVERIFY(!places.empty() && places.size() <= 3);
        // the sweep of undyed linen, a little warm: no yarn, no wood
        const auto &[x, y, w, h] = places[0].area;
        QVERIFY(x >= 0 && y >= 0 && x + w <= frame.width && y + h <= frame.height);
        QVERIFY(places[0].light && places[0].share > 0.3);
        const auto truth = temperatureOf(chromaticityFromXyz(xyzFromLight(sim::lamp(s.lamp).spectrum)));
        const double off = 1e6 / places[0].light->cctKelvin - 1e6 / truth.cctKelvin;
        QVERIFY2(std::abs(off) < 35, qPrintable(QString::number(off)));
    }
    // a cloth of one strong colour is none
    sim::Scene cloth;
    cloth.background = sim::addMaterial(cloth, *sim::reflectanceOf({45, 50, 25}, 7), 0.02, 7);
    sim::Shot shot;
    shot.width = 900;
    shot.height = 600;
    QVERIFY(measure::fairlyNeutral(
                sim::rawFrameOf(sim::expose(cloth, sim::camera("Tarn 2"), sim::lamp("daylight"), shot)))
                .empty());
}

void OtherChartsTest::barrelDistortionDoesNotPushWindowsOff()
{
    for (const double distortion : {-0.03, 0.06}) {
        const auto chart = named("field-140");
        const auto s = shown(chart, sim::chartReflectances(chart), 2, distortion, 1350, 2);
        const auto reading = *readChart(s.frame, chart);
        QVERIFY(reading.found);
        QVERIFY2(
            reading.distortion * distortion < 0,
            qPrintable(QString::number(reading.distortion))); // the scene's bending is the picture's reverse
        QVERIFY2(worstPixels(reading.corners, s.corners) < 4,
                 qPrintable(QString::number(worstPixels(reading.corners, s.corners))));
        int off = 0;
        for (size_t i = 0; i < s.patches.size(); ++i)
            off += std::abs(reading.patches[i].mean.g / s.patches[i][1] - 1) > 0.01;
        QVERIFY2(off < 4, qPrintable(QString::number(off)));
    }
}

void OtherChartsTest::mishapsDoNotHideTheChart_data()
{
    QTest::addColumn<int>("mishap");
    for (int i = 0; i < sim::kMishaps; ++i)
        if (i != int(sim::Mishap::Small)) // full-size frames: the bench has them
            QTest::addRow("%s", nameOf(sim::Mishap(i))) << i;
}

void OtherChartsTest::mishapsDoNotHideTheChart()
{
    QFETCH(int, mishap);
    auto s =
        sim::randomSituation(uint64_t(3557 * sim::kMishaps + mishap)); // the mishap is the seed's remainder
    QCOMPARE(int(s.mishap), mishap);
    const auto charts = s.frame.charts;
    const auto frame = sim::rawFrameOf(std::move(s.frame));
    const auto reading = s.asked.empty() ? *readAnyChart(frame, chartCatalogue())
                                         : *readChart(frame, named(s.asked.c_str()), {{}, 0.5, true});
    QCOMPARE(reading.found, s.mishap != sim::Mishap::NoChart);
    if (!reading.found || s.mishap == sim::Mishap::WrongChart)
        return;
    double nearest = 1e9;
    for (size_t i = 0; i < charts.size(); ++i)
        if (s.charts[i] == reading.chart)
            nearest = std::min(nearest, worstPixels(reading.corners, charts[i].corners));
    QVERIFY2(nearest < 0.05 * pitchPixels(named(reading.chart.c_str()),
                                          *homographyFrom(named(reading.chart.c_str()), reading.corners)),
             qPrintable(QString::number(nearest)));
}

void OtherChartsTest::threeCornersTellTheFourth()
{
    const auto chart = named("classic-24");
    const auto s =
        shown(chart, sim::chartReflectances(chart), 12, 0, 900, 24); // perspective moves the fourth
    const auto rough = [](const PixelPoint &p) { return PixelPoint{p.x + 6, p.y - 5}; };
    const auto place =
        placedByThree(s.frame, chart, {rough(s.corners[0]), rough(s.corners[1]), rough(s.corners[2])});
    QVERIFY(place);
    QVERIFY2(worstPixels(place->corners, s.corners) < 2,
             qPrintable(QString::number(worstPixels(place->corners, s.corners))));
    QVERIFY(
        !placedByThree(s.frame, chart, {s.corners[0], s.corners[2], s.corners[1]})); // the wrong way round
    QVERIFY(!placedByThree(s.frame, chart, {s.corners[0], s.corners[0], s.corners[1]}));
}

void OtherChartsTest::farCornersAreNotDrawn()
{
    const auto chart = named("classic-24");
    const auto s = shown(chart, sim::chartReflectances(chart), 5);
    auto near = s.corners, far = s.corners;
    near[2].x += 12;
    for (auto &corner : far)
        corner.x += 110; // most of a patch
    const auto drawn = snapped(s.frame, chart, near);
    QVERIFY(drawn && worstPixels(drawn->corners, s.corners) < 2);
    QVERIFY(!snapped(s.frame, chart, far));
}

static const testing::Registered<OtherChartsTest> registeredOtherChartsTest("other_charts_test");
#include "other_charts_test.moc"
