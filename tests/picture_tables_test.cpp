// Tables for pictures as they are: what a reader that is not ours makes of the very picture's codes, and
// whole pictures and folders through a table with all that they hold beside their pixels.
#include "core/color/code_curve.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/measure/sample.h"
#include "core/raw/open_frame.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/read_task.h"
#include "support/demo_day.h"
#include "support/registry.h"
#include "support/shell.h"

#include <OpenColorIO/OpenColorIO.h>
#include <QDir>
#include <QTest>
#include <lcms2.h>

using namespace wavechroma;
namespace ocio = OCIO_NAMESPACE;

class PictureTablesTest : public QObject, private testing::Shell
{
    Q_OBJECT
private slots:
    void initTestCase();
    void tablesOfPicturesAreRightAsTheyAre_data();
    void tablesOfPicturesAreRightAsTheyAre();
    void theSecondTableOfARawCalibrationIsForPictures();
    void everythingBesideThePixelsStays_data();
    void everythingBesideThePixelsStays();
    void aFolderGoesThroughAndWhatIsNoPictureIsNamed();
    void whatCannotBeRightIsRefused_data();
    void whatCannotBeRightIsRefused();

private:
    [[nodiscard]] std::filesystem::path path(const QString &name) const { return at(name).toStdString(); }
    /// Lab of the chart's patches in a picture of the whole frame, by its own profile.
    [[nodiscard]] std::map<std::string, Lab> labsIn(const QString &picture) const;
    [[nodiscard]] static double meanBetween(const std::map<std::string, Lab> &a,
                                            const std::map<std::string, Lab> &b);
    [[nodiscard]] QJsonObject factsOf(const QString &picture) const;
    [[nodiscard]] static bool ffmpeg(const QStringList &arguments)
    {
        QProcess tool;
        tool.start("ffmpeg", QStringList{"-v", "error", "-y"} + arguments);
        return tool.waitForFinished() && tool.exitCode() == 0;
    }
};

void PictureTablesTest::initTestCase()
{
    testing::layDemoDay(path("day"));
    QCOMPARE(run({"read", testing::kGoodFrame, "-o", "reading.json"}).status, 0);
    QCOMPARE(run({"fit", "reading.json", "--colour", "roots", "-o", "roots.json"}).status, 0);
    QCOMPARE(run({"fit", "reading.json", "--colour", "balance", "-o", "balance.json"}).status, 0);
    for (const auto &[space, format] : {std::pair{"srgb", "jpeg"}, {"oprgb", "png16"}, {"romm", "tiff16"}}) {
        const QString name = QString("plain-") + space;
        QCOMPARE(run({"render", testing::kGoodFrame, "--calibration", "balance.json", "--space", space,
                      "--format", format, "--name", name, "-o", "plain"})
                     .status,
                 0);
    }
    QCOMPARE(run({"export", "roots.json", "--cube", "raw.cube", "--picture-cube", "plain.cube"}).status, 0);
}

std::map<std::string, Lab> PictureTablesTest::labsIn(const QString &picture) const
{
    std::map<std::string, Lab> out;
    const auto frame = openFrame(path(picture));
    const auto reading = loadReading(path("reading.json"));
    if (!frame || !reading)
        return out;
    const auto chart = *chartFromCatalogue(reading->chart);
    for (const auto &patch : samplePatches(*frame, chart, *homographyFrom(chart, reading->corners)))
        out[patch.id] = labFromXyz(xyzOf(*frame->fileColor.xyzD50FromRendered * vectorOf(patch.mean)));
    return out;
}

double PictureTablesTest::meanBetween(const std::map<std::string, Lab> &a,
                                      const std::map<std::string, Lab> &b)
{
    double sum = 0;
    for (const auto &[id, lab] : a)
        sum += de2000(lab, b.at(id)) / double(a.size());
    return a.size() == 24 ? sum : 1000;
}

void PictureTablesTest::tablesOfPicturesAreRightAsTheyAre_data()
{
    QTest::addColumn<QString>("picture");
    QTest::addColumn<QString>("colour");
    QTest::newRow("sRGB, JPEG, matrix") << "plain-srgb.jpg"
                                        << "matrix";
    QTest::newRow("opRGB, PNG, roots") << "plain-oprgb.png"
                                       << "roots";
    QTest::newRow("ROMM, TIFF, field") << "plain-romm.tif"
                                       << "field";
}

/// The picture's codes go in as they are: it was 6.6 off where multipliers and scale had to be put in by
/// hand.
void PictureTablesTest::tablesOfPicturesAreRightAsTheyAre()
{
    QFETCH(QString, picture);
    QFETCH(QString, colour);
    QCOMPARE(run({"read", "plain/" + picture, "-o", "p.json"}).status & 1, 0);
    QCOMPARE(
        run({"fit", "p.json", "--colour", colour, "--tone", "channels", "-o", "pc.json", "--force"}).status,
        0);
    const auto exported =
        run({"export", "pc.json", "--cube", "p.cube", "--icc", "p.icc", "--clf", "p.clf", "--space", "romm"});
    QVERIFY2(exported.status == 0, exported.err);
    const auto reading = *loadReading(path("p.json"));
    const auto calibration = *loadCalibration(path("pc.json"));
    ocio::ClearAllCaches();
    const auto config = ocio::Config::CreateRaw();
    cmsHPROFILE profile = cmsOpenProfileFromFile(at("p.icc").toLocal8Bit(), "r"),
                lab = cmsCreateLab4Profile(nullptr);
    cmsHTRANSFORM transform = cmsCreateTransform(profile, TYPE_RGB_DBL, lab, TYPE_Lab_DBL,
                                                 INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOOPTIMIZE);
    QVERIFY(transform);
    const auto toXyz = xyzD50FromRgbMatrix(*rgbSpaceFromId("romm"));
    double cube = 0, clf = 0, icc = 0;
    for (const auto &patch : reading.patches) {
        const auto light = vectorOf(patch.mean);
        std::array<float, 3> code{};
        for (size_t c = 0; c < 3; ++c)
            code[c] = float(codeOfLight(reading.fileColor.renderedCodes[c], light[c]));
        const Lab wanted = labFromXyz(xyzFromCamera(calibration, patch.mean));
        for (const char *file : {"p.cube", "p.clf"}) {
            const auto table = ocio::FileTransform::Create();
            table->setSrc(at(file).toLocal8Bit());
            auto pixel = code;
            config->getProcessor(table)->getDefaultCPUProcessor()->applyRGB(pixel.data());
            Vector3 out{};
            for (size_t c = 0; c < 3; ++c) // ISO 22028-2
                out[c] =
                    double(pixel[c]) < 16 / 512.0 ? double(pixel[c]) / 16 : std::pow(double(pixel[c]), 1.8);
            (file == QString("p.cube") ? cube : clf) += de2000(labFromXyz(xyzOf(toXyz * out)), wanted) / 24;
        }
        const double in[] = {double(code[0]), double(code[1]), double(code[2])};
        double out[3];
        cmsDoTransform(transform, in, out, 1);
        icc += de2000({out[0], out[1], out[2]}, wanted) / 24;
    }
    cmsDeleteTransform(transform);
    cmsCloseProfile(lab);
    cmsCloseProfile(profile);
    QVERIFY2(cube < 0.1 && clf < 0.1 && icc < 0.1,
             qPrintable(QString(".cube %1, CLF %2, ICC %3").arg(cube).arg(clf).arg(icc)));
}

void PictureTablesTest::theSecondTableOfARawCalibrationIsForPictures()
{
    QCOMPARE(run({"render", testing::kGoodFrame, "--calibration", "roots.json", "-o", "exact"}).status, 0);
    QCOMPARE(run({"export", "roots.json", "--picture-cube", "p8.cube", "--size", "65"}).status, 0);
    QCOMPARE(run({"render", "plain/plain-srgb.jpg", "--cube", "p8.cube", "-o", "through"}).status, 0);
    const auto exact = labsIn(QString("exact/") + QFileInfo(testing::kGoodFrame).completeBaseName() + ".tif"),
               plain = labsIn("plain/plain-srgb.jpg"), through = labsIn("through/plain-srgb.jpg");
    const double before = meanBetween(plain, exact), after = meanBetween(through, exact);
    QVERIFY2(before > 3 * after && after < 0.3, qPrintable(QString("%1, then %2").arg(before).arg(after)));
    QCOMPARE(run({"export", "pc.json", "--picture-cube", "none.cube"}).status,
             2); // it has one table for them
}

QJsonObject PictureTablesTest::factsOf(const QString &picture) const
{
    QProcess tool;
    tool.start("exiftool",
               {"-json", "-a", "-G1", "-x", "System:all", "-x", "ExifTool:all", "-x", "IFD0:StripOffsets",
                "-x", "IFD0:StripByteCounts", "-x", "IFD0:RowsPerStrip", "-x", "SourceFile", at(picture)});
    tool.waitForFinished();
    auto out = QJsonDocument::fromJson(tool.readAllStandardOutput()).array().at(0).toObject();
    out.remove("SourceFile");
    return out;
}

void PictureTablesTest::everythingBesideThePixelsStays_data()
{
    QTest::addColumn<QString>("picture");
    for (const char *picture : {"plain-srgb.jpg", "plain-oprgb.png", "plain-romm.tif"})
        QTest::newRow(picture) << picture;
}

void PictureTablesTest::everythingBesideThePixelsStays()
{
    QFETCH(QString, picture);
    QFile::remove(at(picture));
    QVERIFY(QFile::copy(at("plain/" + picture), at(picture)));
    QStringList tags{"-q",
                     "-overwrite_original",
                     "-XMP-dc:Title=Bowl in oat",
                     "-EXIF:Artist=Ronja Lund",
                     "-EXIF:Orientation#=6",
                     "-GPS:GPSLatitude=60.2",
                     "-GPS:GPSLatitudeRef=N",
                     "-XMP-xmp:Rating=4"};
    if (!picture.endsWith(".png"))
        tags << "-IPTC:Keywords=stoneware";
    if (picture.endsWith(".jpg")) {
        QVERIFY(ffmpeg({"-i", at("plain/" + picture), "-vf", "scale=120:80", at("thumb.jpg")}));
        tags << "-ThumbnailImage<=" + at("thumb.jpg") << "-Comment=second choice";
    }
    QProcess tool;
    tool.start("exiftool", tags << at(picture));
    QVERIFY(tool.waitForFinished() && tool.exitCode() == 0);
    const auto done = run({"render", picture, "--cube", "plain.cube", "--overwrite", "-o", "kept"});
    QVERIFY2(done.status == 0, done.err);
    auto before = factsOf(picture), after = factsOf("kept/" + picture);
    QVERIFY(before.contains("XMP-dc:Title") && before.contains("IFD0:Artist") &&
            before.contains("GPS:GPSLatitude"));
    QCOMPARE(before.contains("IFD1:ThumbnailImage"), picture.endsWith(".jpg"));
    QVERIFY(!after.contains("IFD1:ThumbnailImage")); // which showed the colours before
    for (const auto &key : before.keys()) {
        const bool mayDiffer = key.startsWith("IFD1:") || key.startsWith("XMP-x:") ||
                               key.contains("ExifByteOrder") || key.startsWith("File:FileSize") ||
                               key == "PNG:Interlace";
        if (!mayDiffer)
            QVERIFY2(after.value(key) == before.value(key),
                     qPrintable(key + ": " + before.value(key).toVariant().toString() + " became " +
                                after.value(key).toVariant().toString()));
    }
    const auto profile = [&](const QString &file) {
        QProcess reader;
        reader.start("exiftool", {"-icc_profile", "-b", at(file)});
        reader.waitForFinished();
        return reader.readAllStandardOutput();
    };
    QVERIFY(!profile(picture).isEmpty() && profile("kept/" + picture) == profile(picture));
    QVERIFY(content("kept/" + picture) != content(picture));
}

void PictureTablesTest::aFolderGoesThroughAndWhatIsNoPictureIsNamed()
{
    QVERIFY(QDir(m_folder.path()).mkpath("mixed/below"));
    for (const char *name : {"plain-srgb.jpg", "plain-oprgb.png"})
        QVERIFY(QFile::copy(at(QString("plain/") + name), at(QString("mixed/") + name)));
    write("mixed/notes.txt", "which bowl?");
    const auto done = run({"render", "mixed", "--cube", "plain.cube", "-o", "mixed-out"});
    QCOMPARE(done.status, 2);
    QVERIFY2(done.err.contains("notes.txt"), done.err);
    QVERIFY(
        done.err.contains("plain-oprgb.png: the table makes codes of sRGB")); // it is another space's picture
    QCOMPARE(QDir(at("mixed-out")).entryList(QDir::Files),
             (QStringList{"plain-oprgb.png", "plain-srgb.jpg"}));
    const auto original = content("mixed/plain-srgb.jpg");
    QCOMPARE(
        run({"render", "mixed/plain-srgb.jpg", "--cube", "plain.cube", "--overwrite", "-o", "mixed"}).status,
        2);
    QCOMPARE(content("mixed/plain-srgb.jpg"), original);
}

void PictureTablesTest::whatCannotBeRightIsRefused_data()
{
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QByteArray>("said");
    const QStringList picture{"render", "plain/plain-srgb.jpg", "-o", "refused"};
    QTest::newRow("a table for camera RGB")
        << (picture + QStringList{"--cube", "raw.cube"}) << QByteArray("--picture-cube");
    QTest::newRow("no table") << (picture + QStringList{"--cube", "balance.json"})
                              << QByteArray("balance.json");
    QTest::newRow("with a calibration")
        << (picture + QStringList{"--cube", "plain.cube", "--calibration", "roots.json"})
        << QByteArray("--cube");
    QTest::newRow("with a size") << (picture + QStringList{"--cube", "plain.cube", "--long-side", "200"})
                                 << QByteArray("--cube");
    QTest::newRow("a raw frame") << QStringList{"render", testing::kGoodFrame, "--cube", "plain.cube", "-o",
                                                "refused"}
                                 << QByteArray("not a rendered picture");
    QTest::newRow("transparency") << QStringList{"render",     "clear.png", "--cube",
                                                 "plain.cube", "-o",        "refused"}
                                  << QByteArray("transparency");
    QTest::newRow("grey") << QStringList{"render", "grey.png", "--cube", "plain.cube", "-o", "refused"}
                          << QByteArray("grey");
}

void PictureTablesTest::whatCannotBeRightIsRefused()
{
    QFETCH(QStringList, arguments);
    QFETCH(QByteArray, said);
    const QStringList orange{"-f", "lavfi", "-i", "color=0xC86432@0.4:30x20,format=rgba", "-frames:v", "1"};
    QVERIFY(ffmpeg(orange + QStringList{at("clear.png")}) &&
            ffmpeg(orange + QStringList{"-pix_fmt", "gray", at("grey.png")}));
    const auto done = run(arguments);
    QCOMPARE(done.status, 2);
    QVERIFY2(done.err.contains(said), done.err);
    QVERIFY(QDir(at("refused")).entryList(QDir::Files).isEmpty());
}

static const testing::Registered<PictureTablesTest> registeredPictureTablesTest("picture_tables_test");
#include "picture_tables_test.moc"
