#include "core/color/illuminant.h"
#include "core/color/lab.h"
#include "core/color/spectrum.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/sim/expose.h"
#include "core/sim/random.h"
#include "core/sim/reflectance.h"
#include "core/tasks/read_task.h"
#include "support/registry.h"
#include "support/shell.h"
#include "support/sim_dng.h"

#include <QDir>
#include <QTest>
#include <cmath>
#include <numbers>

using namespace wavechroma;

/// Charts as people own them: printed charts whose values are not those that ship, and values that come as
/// tables.
class OwnChartsTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void aLayoutIsFoundByItsPatternAlone_data();
    void aLayoutIsFoundByItsPatternAlone();
    void itsOwnValuesTellTurnAndIdentity_data();
    void itsOwnValuesTellTurnAndIdentity();
    void valuesAloneFindTheirLayout();
    void aJobKeepsTheChartThatItWasTakenWith();
    void patchesMayLieAnywhere();
    void brokenPlacesAreNamed_data();
    void brokenPlacesAreNamed();
    void whatIsNoSuchChartIsNotOne();
    void whatCannotBeUnderstoodIsRefused_data();
    void whatCannotBeUnderstoodIsRefused();

private:
    [[nodiscard]] std::filesystem::path path(const QString &name) const { return at(name).toStdString(); }
    /// A frame of a chart of that layout whose patches nobody but `values` knows, a CSV table; its true
    /// corners.
    Corners shoot(const QString &frame, const QString &values, const ChartDefinition &layout, double turn,
                  uint64_t seed) const;
    [[nodiscard]] QJsonObject checkOf(const QString &reading, const char *id) const;
    [[nodiscard]] double worstCorner(const QString &reading, const Corners &truth) const;
};

static ChartDefinition layoutNamed(const QString &id)
{
    return *chartFromCatalogue(id.toStdString());
}

Corners OwnChartsTest::shoot(const QString &frame, const QString &values, const ChartDefinition &layout,
                             double turn, uint64_t seed) const
{
    sim::Random random(seed);
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.4), 0.1, 7);
    sim::PrintedChart printed;
    printed.chart = layout;
    QByteArray table = "id,L,a,b\n";
    for (size_t i = 0; i < layout.patches.size(); ++i) {
        const bool isGrey = i % 8 == 3;
        const double strength = isGrey ? 0 : 15 + 35 * random.unit(),
                     hue = 2 * std::numbers::pi * random.unit();
        const double l =
            isGrey ? 95 - 75.0 * double(i) / double(layout.patches.size()) : 28 + 55 * random.unit();
        const auto surface = [&](double share) {
            return sim::reflectanceOf({l, share * strength * std::cos(hue), share * strength * std::sin(hue)},
                                      seed + i);
        };
        double share = 1;
        while (!surface(share)) // no surface is of that colour
            share *= 0.8;
        const auto spectrum = *surface(share);
        printed.patchMaterials.push_back(sim::addMaterial(scene, spectrum));
        const auto lab = labFromXyz(xyzD50FromReflectance(spectrum, illuminantD50()));
        table += QByteArray::fromStdString(layout.patches[i].id) + ',' + QByteArray::number(lab.l, 'f', 3) +
                 ',' + QByteArray::number(lab.a, 'f', 3) + ',' + QByteArray::number(lab.b, 'f', 3) + '\n';
    }
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.04));
    printed.corners =
        sim::cornersAt(layout, {{800, 540}, layout.columns > layout.rows ? 900.0 : 500.0, turn, 8, -5, 4});
    scene.things.push_back(printed);
    sim::Shot shot;
    shot.width = 1600;
    shot.height = 1100;
    const auto exposed = sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), shot);
    if (!writeWhole({{path(frame), dngFileOf(testing::dngOf(exposed))}}))
        return {};
    if (!values.isEmpty())
        write(values, table);
    return exposed.charts[0].corners;
}

QJsonObject OwnChartsTest::checkOf(const QString &reading, const char *id) const
{
    for (const auto &check : json(reading).object()["checks"].toArray())
        if (check.toObject()["id"].toString() == id)
            return check.toObject();
    return {};
}

double OwnChartsTest::worstCorner(const QString &reading, const Corners &truth) const
{
    const auto corners = json(reading).object()["corners"].toArray();
    double worst = corners.size() == 4 ? 0 : 1e9;
    for (int i = 0; i < corners.size(); ++i)
        worst = std::max(worst, std::hypot(corners[i].toArray()[0].toDouble() - truth[size_t(i)].x,
                                           corners[i].toArray()[1].toDouble() - truth[size_t(i)].y));
    return worst;
}

void OwnChartsTest::aLayoutIsFoundByItsPatternAlone_data()
{
    QTest::addColumn<QString>("id");
    QTest::addColumn<double>("turn");
    for (const char *id : {"double-24", "field-140", "grid-5x7"})
        for (const double turn : {-4.0, 31.0})
            QTest::addRow("%s, %g", id, turn) << id << turn;
}

/// The shipped values of 48 and 140 patches are made up: a real chart was refused for its colours.
void OwnChartsTest::aLayoutIsFoundByItsPatternAlone()
{
    QFETCH(QString, id);
    QFETCH(double, turn);
    const auto truth = shoot("own.dng", {}, layoutNamed(id), turn, 7100 + uint64_t(turn + 50));
    const auto done = run({"read", "own.dng", "--chart", id, "-o", "own.json"});
    QVERIFY2(done.status == 0, done.err);
    QCOMPARE(json("own.json").object()["found"].toBool(), true);
    QVERIFY2(worstCorner("own.json", truth) < 5, qPrintable(QString::number(worstCorner("own.json", truth))));
    const auto match = checkOf("own.json", "match");
    QCOMPARE(match["severity"].toString(), QString("warn"));
    QCOMPARE(match["finding"].toString(), QString("values-unknown"));
    const auto fitted = run({"fit", "own.json", "-o", "own-fit.json"});
    QCOMPARE(fitted.status, 2);
    QVERIFY2(fitted.err.contains("--reference"), fitted.err);
}

void OwnChartsTest::itsOwnValuesTellTurnAndIdentity_data()
{
    QTest::addColumn<QString>("id");
    QTest::addColumn<double>("turn");
    for (const char *id : {"double-24", "field-140", "grid-5x7"})
        for (const double turn : {94.0, 176.0})
            QTest::addRow("%s, %g", id, turn) << id << turn;
}

void OwnChartsTest::itsOwnValuesTellTurnAndIdentity()
{
    QFETCH(QString, id);
    QFETCH(double, turn);
    const auto truth = shoot("own.dng", "own.csv", layoutNamed(id), turn, 7300 + uint64_t(turn));
    const auto done = run({"read", "own.dng", "--chart", id, "--reference", "own.csv", "-o", "own.json"});
    QVERIFY2(done.status == 0, done.err);
    QVERIFY2(worstCorner("own.json", truth) < 5, qPrintable(QString::number(worstCorner("own.json", truth))));
    QCOMPARE(checkOf("own.json", "match")["finding"].toString(), QString("fits"));
    const auto fitted = run({"fit", "own.json", "-o", "own-fit.json"});
    QVERIFY2(fitted.status == 0, fitted.err);
    QVERIFY(json("own-fit.json").object()["cross_validated"].toObject()["mean"].toDouble() < 2);
}

void OwnChartsTest::valuesAloneFindTheirLayout()
{
    for (const char *id : {"double-24", "grid-4x9"}) {
        shoot("alone.dng", "alone.csv", layoutNamed(id), 176, 7400);
        auto table = content("alone.csv");
        table.replace("A1,", "A01,"); // as some write them
        write("alone.csv", table);
        const auto done = run({"read", "alone.dng", "--reference", "alone.csv", "-o", "alone.json"});
        QVERIFY2(done.status == 0, done.err);
        QCOMPARE(json("alone.json").object()["chart"].toString(), QString(id));
        QCOMPARE(checkOf("alone.json", "match")["finding"].toString(), QString("fits"));
    }
}

void OwnChartsTest::aJobKeepsTheChartThatItWasTakenWith()
{
    QVERIFY(QDir(m_folder.path()).mkpath("shoot") && QDir(m_folder.path()).mkpath("later"));
    shoot("shoot/a.dng", "job.csv", layoutNamed("double-24"), 5, 7500);
    shoot("later/b.dng", {}, layoutNamed("double-24"), 170, 7500);
    const auto taken = run({"take", "job", "shoot", "--reference", "job.csv", "--tolerance", "strict"});
    QVERIFY2(taken.status == 0, taken.err);
    QCOMPARE(run({"take", "job", "later"}).status, 0); // which the job knows by now
    QCOMPARE(run({"day", "job", "-o", "day.json"}).status, 0);
    const auto stations = json("day.json").object()["stations"].toArray();
    QCOMPARE(stations.size(), 1);
    QVERIFY(stations[0].toObject()["answer"].toObject()["mean"].toDouble() > 0);
    for (const auto &frame : stations[0].toObject()["frames"].toArray())
        QCOMPARE(frame.toObject()["part"].toString(), QString("chart"));
    // without values it is a chart all the same, that nothing can be fitted to yet
    QVERIFY2(run({"take", "bare", "shoot", "--chart", "double-24"}).status == 0, "");
    QCOMPARE(run({"day", "bare", "-o", "bare.json"}).status, 0);
    const auto bare = json("bare.json").object()["stations"].toArray()[0].toObject();
    QCOMPARE(bare["frames"].toArray()[0].toObject()["part"].toString(), QString("chart"));
    QCOMPARE(bare["answer"].toObject()["mean"].toDouble(), 0.0);
}

/// Two rows of their own, three large fields and six discs, with names instead of rows and columns.
static std::vector<PatchPlace> scattered()
{
    std::vector<PatchPlace> out;
    for (int i = 0; i < 8; ++i)
        out.push_back({20.0 + 17 * i, 30, 14, 18, false});
    for (int i = 0; i < 3; ++i)
        out.push_back({32.0 + 48 * i, 68, 40, 34, false});
    for (int i = 0; i < 7; ++i)
        out.push_back({22.0 + 19.5 * i, 106, 16, 16, true});
    return out;
}

void OwnChartsTest::patchesMayLieAnywhere()
{
    sim::Random random(7900);
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.4), 0.1, 7);
    QJsonArray patches, neutral;
    const auto places = scattered();
    std::vector<int> inks;
    for (size_t i = 0; i < places.size(); ++i) {
        const bool isGrey = i % 3 == 0;
        const double l = isGrey ? 93.0 - 4 * double(i) : 35 + 45 * random.unit(), strength = isGrey ? 0 : 22,
                     hue = 2 * std::numbers::pi * random.unit();
        const auto spectrum =
            *sim::reflectanceOf({l, strength * std::cos(hue), strength * std::sin(hue)}, 7900 + i);
        inks.push_back(sim::addMaterial(scene, spectrum));
        const auto lab = labFromXyz(xyzD50FromReflectance(spectrum, illuminantD50()));
        const auto id = QString("field %1").arg(i + 1);
        QJsonObject place{{"middle", QJsonArray{places[i].x, places[i].y}},
                          {"size", QJsonArray{places[i].widthMm, places[i].heightMm}}};
        if (places[i].isDisc)
            place["disc"] = true;
        patches.append(QJsonObject{{"id", id}, {"lab", QJsonArray{lab.l, lab.a, lab.b}}, {"place", place}});
        if (isGrey)
            neutral.append(id);
    }
    const QJsonObject chart{{"schema", "wavechroma.chart/1"},
                            {"id", "house-board"},
                            {"name", "The house's board"},
                            {"neutral", neutral},
                            {"patches", patches}};
    write("board.json", QJsonDocument(chart).toJson());
    const auto definition = chartFrom(content("board.json").toStdString(), "board.json");
    QVERIFY2(bool(definition), definition ? "" : definition.error().message.c_str());
    // as printed: on a dark board, turned and tilted
    const auto corners = sim::cornersAt(*definition, {{800, 540}, 1000, 12, 9, -6, 4});
    const auto place = *homographyFrom(*definition, corners);
    const auto extent = chartExtent(*definition);
    const auto outline = [&](double x, double y, double w, double h, bool isDisc) {
        std::vector<PixelPoint> points;
        constexpr int kSides = 60;
        for (int k = 0; k < (isDisc ? kSides : 4); ++k) {
            const double a = isDisc ? 2 * std::numbers::pi * k / kSides : 0,
                         u = isDisc ? std::cos(a) : (k == 1 || k == 2 ? 1 : -1),
                         v = isDisc ? std::sin(a) : (k >= 2 ? 1 : -1);
            points.push_back(place.at({x + u * w / 2, y + v * h / 2}));
        }
        return points;
    };
    scene.things.push_back(
        sim::Polygon{outline(extent.x / 2, extent.y / 2, extent.x + 12, extent.y + 12, false),
                     sim::addMaterial(scene, sim::flatReflectance(0.04))});
    for (size_t i = 0; i < places.size(); ++i) {
        const auto &one = definition->places[i];
        scene.things.push_back(
            sim::Polygon{outline(one.x, one.y, one.widthMm, one.heightMm, one.isDisc), inks[i]});
    }
    sim::Shot shot;
    shot.width = 1600;
    shot.height = 1100;
    const auto exposed = sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("strobe"), shot);
    QVERIFY(bool(writeWhole({{path("board.dng"), dngFileOf(testing::dngOf(exposed))}})));

    const auto found = run({"read", "board.dng", "--chart", "board.json", "-o", "board-found.json"});
    QVERIFY2(found.status == 0, found.err + found.out);
    QVERIFY2(worstCorner("board-found.json", corners) < 3,
             qPrintable(QString::number(worstCorner("board-found.json", corners))));
    QStringList numbers;
    for (const auto &corner : corners)
        numbers << QString::number(corner.x) << QString::number(corner.y);
    const auto done = run({"read", "board.dng", "--chart", "board.json", "--corners", numbers.join(','), "-o",
                           "board-read.json"});
    QVERIFY2(done.status == 0, done.err + done.out);
    const auto read = json("board-read.json").object();
    QCOMPARE(read["patches"].toArray().size(), 18);
    QCOMPARE(read["patches"].toArray()[17].toObject()["id"].toString(), QString("field 18"));
    for (const auto &patch : read["patches"].toArray()) { // each window lies on one colour alone
        const auto mean = patch.toObject()["mean"].toArray(), deviation = patch.toObject()["sd"].toArray();
        QVERIFY2(deviation[1].toDouble() < 0.06 * mean[1].toDouble() + 0.002,
                 qPrintable(patch.toObject()["id"].toString()));
    }
    QCOMPARE(checkOf("board-read.json", "match")["finding"].toString(), QString("fits"));
    const auto fitted = run({"fit", "board-read.json", "-o", "board-fit.json"});
    QVERIFY2(fitted.status == 0, fitted.err);
    const double mean = json("board-fit.json").object()["fit"].toObject()["mean"].toDouble();
    QVERIFY2(mean > 0 && mean < 2, qPrintable(QString::number(mean)));
}

void OwnChartsTest::brokenPlacesAreNamed_data()
{
    QTest::addColumn<QByteArray>("patches");
    QTest::addColumn<QByteArray>("said");
    QTest::newRow("one over the other") << QByteArray(R"({"id":"a","place":{"middle":[5,5],"size":[10,10]}},
                         {"id":"b","place":{"middle":[9,9],"size":[10,10]}})")
                                        << QByteArray("lie over each other");
    QTest::newRow("one without") << QByteArray(
                                        R"({"id":"a","place":{"middle":[5,5],"size":[10,10]}},{"id":"b"})")
                                 << QByteArray("some have none");
    QTest::newRow("no size") << QByteArray(R"({"id":"a","place":{"middle":[5,5],"size":[0,10]}})")
                             << QByteArray("patch_size must be positive");
    QTest::newRow("an oval disc") << QByteArray(
                                         R"({"id":"a","place":{"middle":[5,5],"size":[8,10],"disc":true}})")
                                  << QByteArray("none that can be printed");
    QTest::newRow("two of one name") << QByteArray(R"({"id":"a","place":{"middle":[5,5],"size":[4,4]}},
                         {"id":"a","place":{"middle":[15,5],"size":[4,4]}})")
                                     << QByteArray("no name of its own");
}

void OwnChartsTest::brokenPlacesAreNamed()
{
    QFETCH(QByteArray, patches);
    QFETCH(QByteArray, said);
    const auto chart = chartFrom(
        (R"({"schema":"wavechroma.chart/1","id":"broken","patches":[)" + patches + "]}").toStdString(),
        "broken.json");
    QVERIFY(!chart);
    QVERIFY2(QByteArray::fromStdString(chart.error().message).contains(said), chart.error().message.c_str());
}

/// A classic chart is a clean grid of 4 × 6, as each panel of the 48 is.
void OwnChartsTest::whatIsNoSuchChartIsNotOne()
{
    shoot("classic.dng", {}, layoutNamed("grid-6x4"), 4, 7600);
    for (const char *id : {"double-24", "field-140"}) {
        const auto done = run({"read", "classic.dng", "--chart", id, "-o", "none.json"});
        QCOMPARE(done.status, 3);
        QCOMPARE(json("none.json").object()["found"].toBool(), false);
    }
}

void OwnChartsTest::whatCannotBeUnderstoodIsRefused_data()
{
    QTest::addColumn<QByteArray>("table");
    QTest::addColumn<QByteArray>("said");
    QTest::newRow("ids of no grid") << QByteArray("id,L,a,b\nA1,50,0,0\nA2,60,0,0\nB1,40,0,0\n")
                                    << QByteArray("--chart");
    QTest::newRow("names") << QByteArray("name,L,a,b\nrowan,50,0,0\nmoss,60,0,0\n") << QByteArray("--chart");
    QTest::newRow("no table") << QByteArray("hello\n") << QByteArray("values.csv");
}

void OwnChartsTest::whatCannotBeUnderstoodIsRefused()
{
    QFETCH(QByteArray, table);
    QFETCH(QByteArray, said);
    write("values.csv", table);
    shoot("own.dng", {}, layoutNamed("grid-5x7"), 0, 7700);
    const auto done = run({"read", "own.dng", "--reference", "values.csv", "-o", "refused.json"});
    QCOMPARE(done.status, 2);
    QVERIFY2(done.err.contains(said), done.err);
    QVERIFY(!QFile::exists(at("refused.json")));
}

static const testing::Registered<OwnChartsTest> registeredOwnChartsTest("own_charts_test");
#include "own_charts_test.moc"
