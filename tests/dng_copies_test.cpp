// Copies of DNG files with a profile in them, of both byte orders, as the raw library and exiftool read them.
#include "core/formats/dng_embed.h"
#include "core/formats/dng_frame.h"
#include "core/formats/sample_calibration.h"
#include "core/raw/open_frame.h"
#include "support/registry.h"
#include "support/turned_round.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <libraw/libraw.h>

using namespace wavechroma;

class DngCopiesTest : public QObject
{
    Q_OBJECT
private slots:
    void readersOfOthersAgree_data();
    void readersOfOthersAgree();

private:
    QTemporaryDir m_folder;
};

namespace {

Bytes frameFile()
{
    static std::vector<uint16_t> samples(96 * 64);
    for (size_t i = 0; i < samples.size(); ++i)
        samples[i] = uint16_t(600 + i % 3000);
    DngFrame frame;
    frame.width = 96;
    frame.height = 64;
    frame.samples = samples;
    frame.filter = {0, 1, 1, 2};
    frame.black = 512;
    frame.white = 16383;
    frame.camera = testing::sampleReading().camera;
    frame.colorMatrix = Matrix3{{1, 0.1, 0, 0, 1, 0, 0, 0, 1}};
    frame.asShotNeutral = {0.4, 1, 0.6};
    return dngFileOf(frame, DngPacking::None);
}

QJsonObject toldByExiftool(const QString &file)
{
    QProcess process;
    process.start("exiftool",
                  {"-j", "-n", "-ExifByteOrder", "-AsShotNeutral", "-ColorMatrix1", "-ForwardMatrix1",
                   "-ProfileName", "-UniqueCameraModel", "-CalibrationIlluminant1", file});
    process.waitForFinished();
    return QJsonDocument::fromJson(process.readAllStandardOutput()).array().first().toObject();
}

void compareNumbers(const QString &said, const std::vector<double> &wanted)
{
    const auto words = said.split(' ');
    QCOMPARE(words.size(), qsizetype(wanted.size()));
    for (size_t i = 0; i < wanted.size(); ++i)
        QVERIFY2(std::abs(words[qsizetype(i)].toDouble() - wanted[i]) < 2e-4, qPrintable(said));
}

std::vector<double> numbersOf(const Matrix3 &m)
{
    std::vector<double> out;
    for (int i = 0; i < 9; ++i)
        out.push_back(m(i / 3, i % 3));
    return out;
}

} // namespace

void DngCopiesTest::readersOfOthersAgree_data()
{
    QTest::addColumn<bool>("isBigEndian");
    QTest::newRow("lowest byte first") << false;
    QTest::newRow("highest byte first") << true;
}

void DngCopiesTest::readersOfOthersAgree()
{
    QFETCH(bool, isBigEndian);
    const auto original = isBigEndian ? testing::TurnedRound::of(frameFile()) : frameFile();
    const auto c = testing::sampleCalibration();
    const auto profile = cameraProfileOf(c);
    const Vector3 neutral{1 / c.multipliers[0], 1, 1 / c.multipliers[2]};
    const auto copy = withProfile(original, profile, neutral, "copy.dng");
    QVERIFY2(bool(copy), copy ? "" : copy.error().message.c_str());
    const auto before = m_folder.filePath("before.dng"), after = m_folder.filePath("after.dng");
    QVERIFY(bool(writeWhole({{before.toStdString(), original}, {after.toStdString(), *copy}})));

    const auto told = toldByExiftool(after);
    QCOMPARE(told["ExifByteOrder"].toString(), QString(isBigEndian ? "MM" : "II"));
    compareNumbers(told["AsShotNeutral"].toString(), {neutral[0], neutral[1], neutral[2]});
    compareNumbers(told["ColorMatrix1"].toString(), numbersOf(profile.lights[0].colorMatrix));
    compareNumbers(told["ForwardMatrix1"].toString(), numbersOf(profile.lights[0].forwardMatrix));
    QCOMPARE(told["CalibrationIlluminant1"].toInt(), profile.lights[0].illuminantCode);
    QCOMPARE(told["ProfileName"].toString().toStdString(), profile.name);

    LibRaw raw;
    QCOMPARE(raw.open_file(after.toLocal8Bit().constData()), LIBRAW_SUCCESS);
    QCOMPARE(raw.unpack(), LIBRAW_SUCCESS);
    for (int i = 0; i < 9; ++i) {
        QVERIFY(std::abs(double(raw.imgdata.color.dng_color[0].colormatrix[i / 3][i % 3]) -
                         profile.lights[0].colorMatrix(i / 3, i % 3)) < 1e-4);
        QVERIFY(std::abs(double(raw.imgdata.color.dng_color[0].forwardmatrix[i / 3][i % 3]) -
                         profile.lights[0].forwardMatrix(i / 3, i % 3)) < 1e-4);
    }
    for (int i = 0; i < 3; ++i)
        QVERIFY(std::abs(double(raw.imgdata.color.dng_levels.asshotneutral[i]) - neutral[size_t(i)]) < 1e-4);
    // the samples are those of the file before
    const auto a = openFrame(before.toStdString()), b = openFrame(after.toStdString());
    QVERIFY(a && b && a->width == 96 && b->width == 96 && b->height == 64);
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 96; ++x) {
            QCOMPARE(b->mosaic->code(x, y), a->mosaic->code(x, y));
            QCOMPARE(int(b->mosaic->code(x, y)), 600 + (y * 96 + x) % 3000);
        }
    QVERIFY(b->camera.model == a->camera.model && b->camera.lens == a->camera.lens);
    QVERIFY(b->fileColor.asShotNeutral && std::abs((*b->fileColor.asShotNeutral)[0] - neutral[0]) < 1e-4);
}

static const testing::Registered<DngCopiesTest> registeredDngCopiesTest("dng_copies_test");
#include "dng_copies_test.moc"
