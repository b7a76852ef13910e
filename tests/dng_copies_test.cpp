// Copies of DNG files with a profile in them, of both byte orders, as the raw library and exiftool read them.
#include "core/formats/dng_embed.h"
#include "core/formats/dng_frame.h"
#include "core/formats/sample_calibration.h"
#include "core/raw/raw_frame.h"
#include "support/registry.h"

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

/// A little-endian TIFF turned round, entry by entry (TIFF 6.0, section 2): directories, their values, and
/// the 16-bit samples of the strip.
class TurnedRound
{
public:
    static Bytes of(const Bytes &file)
    {
        TurnedRound turn(file);
        turn.directory(turn.number(4, 4));
        turn.swap(2, 2);
        turn.swap(4, 4);
        turn.m_out[0] = turn.m_out[1] = 'M';
        return turn.m_out;
    }

private:
    explicit TurnedRound(const Bytes &file) : m_in(file), m_out(file) {}
    uint32_t number(size_t at, int n) const
    {
        uint32_t v = 0;
        for (int i = n - 1; i >= 0; --i)
            v = v << 8 | m_in.at(at + size_t(i));
        return v;
    }
    void swap(size_t at, size_t n) { std::reverse(&m_out.at(at), &m_out.at(at) + n); }
    void directory(size_t at)
    {
        const size_t count = number(at, 2);
        uint32_t strip = 0, stripSize = 0;
        for (size_t i = 0; i < count; ++i) {
            const size_t entry = at + 2 + 12 * i;
            const uint32_t tag = number(entry, 2), values = number(entry + 4, 4);
            if (tag == 273)
                strip = number(entry + 8, 4);
            if (tag == 279)
                stripSize = number(entry + 8, 4);
            if (tag == 34665 || tag == 330)
                directory(number(entry + 8, 4));
            entryValues(entry, values);
            swap(entry, 2);
            swap(entry + 2, 2);
            swap(entry + 4, 4);
        }
        swap(at, 2);
        swap(at + 2 + 12 * count, 4);
        for (uint32_t i = 0; i + 1 < stripSize; i += 2)
            swap(strip + i, 2);
    }
    void entryValues(size_t entry, size_t values)
    {
        static const std::map<uint32_t, std::pair<size_t, size_t>> kinds{
            // numbers of a value, bytes of each
            {3, {1, 2}}, {4, {1, 4}},  {5, {2, 4}},  {8, {1, 2}},
            {9, {1, 4}}, {10, {2, 4}}, {11, {1, 4}}, {12, {1, 8}}};
        const auto kind = kinds.find(number(entry + 2, 2));
        const auto [parts, size] = kind == kinds.end() ? std::pair<size_t, size_t>{1, 1} : kind->second;
        const bool inside = values * parts * size <= 4;
        const size_t from = inside ? entry + 8 : number(entry + 8, 4);
        for (size_t k = 0; size > 1 && k < values * parts; ++k)
            swap(from + k * size, size);
        if (!inside)
            swap(entry + 8, 4);
    }
    const Bytes &m_in;
    Bytes m_out;
};

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
    const auto original = isBigEndian ? TurnedRound::of(frameFile()) : frameFile();
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

static const testing::Registered<DngCopiesTest> registered("dng_copies_test");
#include "dng_copies_test.moc"
