#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/dng_frame.h"
#include "core/formats/whole_file.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/sim/expose.h"
#include "core/sim/reflectance.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/read_task.h"
#include "core/tasks/render_task.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"
#include "support/sim_dng.h"
#include "support/six_by_six.h"

#include <QDir>
#include <QTest>
#include <cmath>

using namespace wavechroma;

/// The command `render` as the contract says: pictures with the colours that calibrations promise.
class FinishedPicturesTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void pixelsHaveTheCalibrationsColours_data();
    void pixelsHaveTheCalibrationsColours();
    void aJobRendersEachByWhatServesIt();
    void renderedPicturesAreRenderedToo();
    void balanceAndLevelAreTaken();
    void otherFiltersAreTheRawLibrarysAndThatIsSaid();
    void finishIsOffUnlessAsked();
    void aLensIsStraightenedByWhatItsChartsShow_data();
    void aLensIsStraightenedByWhatItsChartsShow();
    void namesAreNumberedAndNothingIsReplaced();
    void whatCannotBeRightIsRefused_data();
    void whatCannotBeRightIsRefused();

private:
    [[nodiscard]] std::filesystem::path path(const QString &name) const { return at(name).toStdString(); }
    /// Lab of each patch of the chart frame in a finished picture of it, by the picture's own profile.
    [[nodiscard]] std::map<std::string, Lab> labsIn(const QString &picture, double shrunk = 1) const;
    /// … as the calibration has them, of the reading's own means.
    [[nodiscard]] std::map<std::string, Lab> labsBy(const QString &calibration) const;
};

void FinishedPicturesTest::initTestCase()
{
    testing::layDemoDay(path("day"));
    QCOMPARE(run({"read", testing::kGoodFrame, "-o", "reading.json"}).status, 0);
    for (const auto &[colour, tone] :
         {std::pair{"matrix", "as-shot"}, {"field", "greys"}, {"roots", "as-shot"}})
        QCOMPARE(
            run({"fit", "reading.json", "--colour", colour, "--tone", tone, "-o", QString(colour) + ".json"})
                .status,
            0);
    QCOMPARE(run({"fit", "reading.json", "--colour", "roots", "--chroma", "2", "-o", "lively.json"}).status,
             0);
}

std::map<std::string, Lab> FinishedPicturesTest::labsIn(const QString &picture, double shrunk) const
{
    std::map<std::string, Lab> out;
    const auto frame = openFrame(path(picture));
    const auto reading = loadReading(path("reading.json"));
    if (!frame || !reading)
        return out;
    auto corners = reading->corners;
    for (auto &c : corners)
        c = {c.x / shrunk, c.y / shrunk};
    const auto chart = *chartFromCatalogue(reading->chart);
    const auto placed = homographyFrom(chart, corners);
    const auto patches = samplePatches(*frame, chart, *placed);
    for (const auto &patch : patches)
        out[patch.id] = labFromXyz(xyzOf(*frame->fileColor.xyzD50FromRendered * vectorOf(patch.mean)));
    return out;
}

std::map<std::string, Lab> FinishedPicturesTest::labsBy(const QString &calibration) const
{
    std::map<std::string, Lab> out;
    const auto loaded = loadCalibration(path(calibration));
    const auto reading = loadReading(path("reading.json"));
    for (const auto &patch : reading->patches)
        out[patch.id] = labFromXyz(xyzFromCamera(*loaded, patch.mean));
    return out;
}

void FinishedPicturesTest::pixelsHaveTheCalibrationsColours_data()
{
    QTest::addColumn<QString>("calibration");
    QTest::addColumn<QStringList>("more");
    QTest::addColumn<QString>("extension");
    QTest::addColumn<double>("most");
    QTest::newRow("matrix, widest space") << "matrix.json" << QStringList{"--space", "romm"} << "tif" << 0.35;
    QTest::newRow("field and greys") << "field.json" << QStringList{"--space", "romm", "--deflate"} << "tif"
                                     << 0.5;
    QTest::newRow("roots, PNG") << "roots.json" << QStringList{"--space", "oprgb", "--format", "png16"}
                                << "png" << 0.4;
    QTest::newRow("leaned") << "lively.json" << QStringList{"--space", "display-p3"} << "tif" << 0.5;
    QTest::newRow("JPEG") << "matrix.json" << QStringList{"--format", "jpeg", "--quality", "98"} << "jpg"
                          << 0.8;
    QTest::newRow("half the size") << "matrix.json" << QStringList{"--space", "romm", "--long-side", "500"}
                                   << "tif" << 0.6;
}

void FinishedPicturesTest::pixelsHaveTheCalibrationsColours()
{
    QFETCH(QString, calibration);
    QFETCH(QStringList, more);
    QFETCH(QString, extension);
    QFETCH(double, most);
    const auto ran = run(
        QStringList{"render", testing::kGoodFrame, "--calibration", calibration, "-o", "out", "--overwrite"} +
        more);
    QVERIFY2(ran.status == 0, ran.err);
    const auto size = openFrame(path(testing::kGoodFrame))->width;
    const auto made = openFrame(path("out/HR_0414." + extension));
    QVERIFY(made);
    const auto seen = labsIn("out/HR_0414." + extension, double(size) / made->width),
               meant = labsBy(calibration);
    QVERIFY(!seen.empty());
    int compared = 0;
    for (const auto &[id, lab] : meant) {
        // colours outside the space are clipped, and so is what is whiter than white
        const auto rgb = rgbFromXyzD50(*rgbSpaceFromId(more.contains("--space")
                                                           ? more[more.indexOf("--space") + 1].toStdString()
                                                           : "srgb"),
                                       xyzFromLab(lab));
        if (std::min({rgb.r, rgb.g, rgb.b}) < 0.001 || std::max({rgb.r, rgb.g, rgb.b}) > 0.98)
            continue;
        ++compared;
        const double error = de2000(seen.at(id), lab);
        QVERIFY2(error < most, qPrintable(QString("%1: %2").arg(id.c_str()).arg(error)));
    }
    QVERIFY2(compared >= 12, qPrintable(QString::number(compared)));
}

void FinishedPicturesTest::aJobRendersEachByWhatServesIt()
{
    const auto ran =
        run({"render", testing::kGoodFrame, testing::kProductFrame, "--job", "day", "-o", "served"});
    QVERIFY2(ran.status == 0, ran.err);
    QVERIFY(QFile::exists(at("served/HR_0414.tif")) && QFile::exists(at("served/HR_0416.tif")));
    // a copy is known by its bytes
    QVERIFY(QFile::copy(at(testing::kProductFrame), at("elsewhere.dng")));
    QCOMPARE(run({"render", "elsewhere.dng", "--job", "day", "-o", "served"}).status, 0);
    QVERIFY(content("served/elsewhere.tif") == content("served/HR_0416.tif"));
    // a frame that the job does not know, and a job that is none
    QVERIFY(QFile::copy(at("served/HR_0416.tif"), at("stranger.tif")));
    const auto stranger = run({"render", "stranger.tif", "--job", "day", "-o", "served"});
    QVERIFY(stranger.status == 2 && stranger.err.contains("stranger.tif"));
    QCOMPARE(run({"render", testing::kGoodFrame, "--job", "nowhere", "-o", "served"}).status, 2);
}

void FinishedPicturesTest::renderedPicturesAreRenderedToo()
{
    QCOMPARE(
        run({"render", testing::kGoodFrame, "--calibration", "matrix.json", "--space", "romm", "-o", "first"})
            .status,
        0);
    QCOMPARE(run({"read", "first/HR_0414.tif", "-o", "second.json"}).status, 0);
    QCOMPARE(run({"fit", "second.json", "--colour", "matrix", "--tone", "as-shot", "-o", "second-fit.json"})
                 .status,
             0);
    const auto ran = run({"render", "first/HR_0414.tif", "--calibration", "second-fit.json", "--space",
                          "romm", "-o", "again"});
    QVERIFY2(ran.status == 0, ran.err);
    const auto once = labsIn("first/HR_0414.tif"), twice = labsIn("again/HR_0414.tif");
    for (const auto &[id, lab] : once) // nearly right already, so nearly nothing happens
        QVERIFY2(de2000(lab, twice.at(id)) < 3,
                 qPrintable(QString("%1 %2").arg(id.c_str()).arg(de2000(lab, twice.at(id)))));
}

void FinishedPicturesTest::balanceAndLevelAreTaken()
{
    QCOMPARE(run({"balance", "reading.json", "--patch", "D3", "-o", "balance.json"}).status, 0);
    QCOMPARE(run({"render", testing::kGoodFrame, "--calibration", "matrix.json", "--balance", "balance.json",
                  "-o", "balanced"})
                 .status,
             0);
    const auto grey = labsIn("balanced/HR_0414.tif").at("D3");
    QVERIFY2(std::hypot(grey.a, grey.b) < 0.3, qPrintable(QString("%1 %2").arg(grey.a).arg(grey.b)));
    // as shot, a frame at a wider aperture is brighter; at the chart's level it is as the chart is
    for (const char *level : {"as-shot", "chart"})
        QCOMPARE(run({"render", testing::kBrighterFrame, "--calibration", "matrix.json", "--space", "romm",
                      "--level", level, "-o", level})
                     .status,
                 0);
    QCOMPARE(run({"render", testing::kGoodFrame, "--calibration", "matrix.json", "--space", "romm", "-o",
                  "as-shot"})
                 .status,
             0);
    const auto chart = labsIn("as-shot/HR_0414.tif"), bright = labsIn("as-shot/HR_0415.tif"),
               level = labsIn("chart/HR_0415.tif");
    QVERIFY(bright.at("D5").l > chart.at("D5").l + 5);
    QVERIFY2(std::abs(level.at("D5").l - chart.at("D5").l) < 1.5,
             qPrintable(QString("%1 %2").arg(level.at("D5").l).arg(chart.at("D5").l)));
}

void FinishedPicturesTest::finishIsOffUnlessAsked()
{
    const auto made = [&](const QStringList &more) {
        const auto ran = run(
            QStringList{"render", testing::kGoodFrame, "--job", "day", "--overwrite", "-o", "finish"} + more);
        return ran.status == 0 ? content("finish/HR_0414.tif") : ran.err;
    };
    const auto plain = made({});
    QVERIFY(!plain.isEmpty() && made({}) == plain);
    const QStringList asked[] = {
        {"--sharpen", "chart"}, {"--sharpen", "0.7"}, {"--calm-colour"}, {"--straighten", "-0.05"}};
    for (const auto &more : asked) {
        const auto other = made(more);
        QVERIFY2(other != plain && other.size() == plain.size(), qPrintable(more.join(' ')));
    }
    // colours of plain areas are none of its business
    QVERIFY(made({"--sharpen", "chart", "--calm-colour", "--straighten", "chart", "--space", "romm"}) !=
            plain);
    const auto finished = labsIn("finish/HR_0414.tif");
    QVERIFY(made({"--space", "romm"}) != plain);
    for (const auto &[id, lab] : labsIn("finish/HR_0414.tif"))
        QVERIFY2(de2000(lab, finished.at(id)) < 0.5,
                 qPrintable(QString("%1 %2").arg(id.c_str()).arg(de2000(lab, finished.at(id)))));
}

void FinishedPicturesTest::otherFiltersAreTheRawLibrarysAndThatIsSaid()
{
    using testing::SixBySix;
    QVERIFY(SixBySix::write(path("six.dng")));
    const auto ran = run({"render", "six.dng", "--calibration", "matrix.json", "--any-camera", "--space",
                          "romm", "-o", "six"});
    QCOMPARE(ran.status, 0);
    QVERIFY2(ran.err.contains("six.dng: its filter is not a Bayer filter"), ran.err);
    QVERIFY(!run({"render", testing::kGoodFrame, "--calibration", "matrix.json", "-o", "six"})
                 .err.contains("Bayer"));
    // its two colours are the calibration's
    const auto made = openFrame(path("six/six.tif"));
    QVERIFY(made && made->width == SixBySix::kWide && made->height == SixBySix::kHigh);
    const auto calibration = loadCalibration(path("matrix.json"));
    for (const auto &[x, codes] : {std::pair{100, SixBySix::kLeft}, {500, SixBySix::kRight}}) {
        const size_t at = size_t(270 * SixBySix::kWide + x);
        const Vector3 rgb{double(made->picture->value(at, 0)), double(made->picture->value(at, 1)),
                          double(made->picture->value(at, 2))};
        const auto lab = labFromXyz(xyzOf(*made->fileColor.xyzD50FromRendered * rgb)),
                   meant = labFromXyz(xyzFromCamera(
                       *calibration, {codes[0] / 15000.0, codes[1] / 15000.0, codes[2] / 15000.0}));
        QVERIFY2(de2000(lab, meant) < 0.5, qPrintable(QString("%1: %2").arg(x).arg(de2000(lab, meant))));
    }
}

/// A chart as a camera with a bent lens sees it.
static void shoot(const std::filesystem::path &file, const char *id, const sim::Pose &pose, double distortion)
{
    sim::Scene scene;
    scene.background = sim::addMaterial(scene, sim::flatReflectance(0.45), 0.1, 7);
    scene.distortion = distortion;
    sim::PrintedChart printed;
    printed.chart = *chartFromCatalogue(id);
    for (const auto &reflectance : sim::chartReflectances(printed.chart))
        printed.patchMaterials.push_back(sim::addMaterial(scene, reflectance));
    printed.frameMaterial = sim::addMaterial(scene, sim::flatReflectance(0.03));
    printed.corners = sim::cornersAt(printed.chart, pose);
    scene.things.push_back(printed);
    sim::Shot shot;
    shot.width = 1600;
    shot.height = 1100;
    const auto f = sim::expose(scene, sim::camera("Tarn 2"), sim::lamp("daylight"), shot);
    QVERIFY(writeWhole({{file, dngFileOf(testing::dngOf(f))}}));
}

void FinishedPicturesTest::aLensIsStraightenedByWhatItsChartsShow_data()
{
    QTest::addColumn<double>("distortion");
    QTest::newRow("barrel") << 0.06;
    QTest::newRow("pincushion") << -0.03;
}

/// A grid that fills the frame, and the chart in its middle, say what the lens does; seen on the grid as it
/// stands elsewhere, by the search's own look at the finished picture.
void FinishedPicturesTest::aLensIsStraightenedByWhatItsChartsShow()
{
    QFETCH(double, distortion);
    const QString lens = QTest::currentDataTag();
    QVERIFY(QDir().mkpath(at(lens)));
    shoot(path(lens + "/grid.dng"), "field-140", {{800, 540}, 1350, 2, 2, -2, 4}, distortion);
    shoot(path(lens + "/chart.dng"), "classic-24", {{820, 560}, 600, -3, 4, 2, 4}, distortion);
    shoot(path(lens + "/other.dng"), "field-140", {{770, 560}, 1200, -4, 6, 3, 4}, distortion);
    QCOMPARE(run({"take", lens + "-job", lens}).status, 0);
    double left[2]{};
    for (const bool isStraight : {false, true}) {
        const auto folder = lens + (isStraight ? "-straight" : "-bent");
        QStringList arguments{"render", lens + "/other.dng", "--job", lens + "-job", "-o", folder};
        QCOMPARE(run(arguments + (isStraight ? QStringList{"--straighten", "chart"} : QStringList())).status,
                 0);
        QCOMPARE(run({"read", folder + "/other.tif", "--chart", "field-140", "-o", folder + ".json"}).status,
                 0);
        left[isStraight] = loadReading(path(folder + ".json"))->distortion;
    }
    QVERIFY2(std::abs(left[0]) > 0.02, qPrintable(QString::number(left[0])));
    QVERIFY2(std::abs(left[1]) < 0.1 * std::abs(left[0]),
             qPrintable(QString("%1 %2").arg(left[0]).arg(left[1])));
}

void FinishedPicturesTest::namesAreNumberedAndNothingIsReplaced()
{
    QDir(m_folder.path()).mkdir("copies");
    QVERIFY(QFile::copy(at(testing::kGoodFrame), at("copies/HR_0414.dng")));
    QCOMPARE(run({"render", testing::kGoodFrame, "copies/HR_0414.dng", "--calibration", "matrix.json",
                  "--ppi", "240", "-o", "numbered"})
                 .status,
             0);
    QVERIFY(content("numbered/HR_0414.tif") == content("numbered/HR_0414-2.tif") &&
            !content("numbered/HR_0414.tif").isEmpty());
    const auto before = content("numbered/HR_0414.tif");
    const auto again = run({"render", testing::kGoodFrame, "--calibration", "field.json", "-o", "numbered"});
    QVERIFY(again.status == 2 && again.err.contains("HR_0414.tif") &&
            content("numbered/HR_0414.tif") == before);
    QCOMPARE(
        run({"render", testing::kGoodFrame, "--calibration", "field.json", "--overwrite", "-o", "numbered"})
            .status,
        0);
    QVERIFY(content("numbered/HR_0414.tif") != before);
}

void FinishedPicturesTest::whatCannotBeRightIsRefused_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QByteArray>("words");
    const QStringList good{"render", testing::kGoodFrame, "-o", "refused"};
    QTest::newRow("neither") << good << QByteArray("--calibration");
    QTest::newRow("both") << good + QStringList{"--calibration", "matrix.json", "--job", "day"}
                          << QByteArray("--job");
    QTest::newRow("space") << good + QStringList{"--calibration", "matrix.json", "--space", "cmyk"}
                           << QByteArray("cmyk");
    QTest::newRow("format") << good + QStringList{"--calibration", "matrix.json", "--format", "bmp"}
                            << QByteArray("bmp");
    QTest::newRow("level") << good + QStringList{"--calibration", "matrix.json", "--level", "bright"}
                           << QByteArray("bright");
    QTest::newRow("sharpening by a chart that is not there")
        << good + QStringList{"--calibration", "matrix.json", "--sharpen", "chart"} << QByteArray("--job");
    QTest::newRow("sharpening") << good + QStringList{"--calibration", "matrix.json", "--sharpen", "9"}
                                << QByteArray("0.2 to 2.5");
    QTest::newRow("distortion") << good + QStringList{"--calibration", "matrix.json", "--straighten", "much"}
                                << QByteArray("much");
    QTest::newRow("no calibration") << good + QStringList{"--calibration", "reading.json"}
                                    << QByteArray("reading.json");
    QTest::newRow("a flat that is none")
        << good + QStringList{"--calibration", "matrix.json", "--flat", testing::kProductFrame}
        << QByteArray("HR_0416");
    QTest::newRow("another camera")
        << QStringList{"render", "day/frames/HR_0423.dng", "--calibration", "matrix.json", "-o", "refused"}
        << QByteArray("another");
}

void FinishedPicturesTest::whatCannotBeRightIsRefused()
{
    QFETCH(QStringList, arguments);
    QFETCH(QByteArray, words);
    const auto ran = run(arguments);
    QCOMPARE(ran.status, 2);
    QVERIFY2(ran.err.contains(words), ran.err);
    QVERIFY(QDir(at("refused")).isEmpty());
}

static const testing::Registered<FinishedPicturesTest>
    registeredFinishedPicturesTest("finished_pictures_test");
#include "finished_pictures_test.moc"
