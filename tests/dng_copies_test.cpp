// Copies of DNG files with a profile in them, of both byte orders, as the raw library and exiftool read them.
#include "core/formats/dng_embed.h"
#include "core/formats/dng_frame.h"
#include "core/formats/sample_calibration.h"
#include "core/raw/open_frame.h"
#include "core/tasks/export_task.h"
#include "support/registry.h"
#include "support/turned_round.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cmath>
#include <libraw/libraw.h>

using namespace wavechroma;

class DngCopiesTest : public QObject
{
    Q_OBJECT
private slots:
    void readersOfOthersAgree_data();
    void readersOfOthersAgree();
    void aFrameOfAnotherFormatBecomesADng_data();
    void aFrameOfAnotherFormatBecomesADng();

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

/// A raw frame in TIFF/EP (ISO 12234-2): the same file without what makes it a DNG, with TIFF/EPStandardID.
static Bytes tiffEpOf(Bytes file)
{
    const auto number = [&](size_t at, size_t n) {
        uint32_t v = 0;
        for (size_t i = n; i-- > 0;)
            v = v << 8 | file[at + i];
        return v;
    };
    std::vector<Bytes> entries{{0x16, 0x92, 1, 0, 4, 0, 0, 0, 1, 0, 0, 0}};
    const size_t directory = number(4, 4), count = number(directory, 2);
    for (size_t i = 0; i < count; ++i) {
        const auto *at = file.data() + directory + 2 + 12 * i;
        if ((at[0] | at[1] << 8) < 50700)
            entries.emplace_back(at, at + 12);
    }
    std::sort(entries.begin(), entries.end(),
              [](const Bytes &a, const Bytes &b) { return (a[0] | a[1] << 8) < (b[0] | b[1] << 8); });
    if (file.size() % 2)
        file.push_back(0);
    const auto place = uint32_t(file.size());
    file.push_back(uint8_t(entries.size()));
    file.push_back(0);
    for (const auto &entry : entries)
        file.insert(file.end(), entry.begin(), entry.end());
    file.insert(file.end(), 4, 0);
    for (size_t i = 0; i < 4; ++i)
        file[4 + i] = uint8_t(place >> (8 * i));
    return file;
}

void DngCopiesTest::aFrameOfAnotherFormatBecomesADng_data()
{
    QTest::addColumn<int>("first"); // colour of the top-left pixel: 0 R, 1 G, 2 B
    QTest::addColumn<bool>("isPacked");
    QTest::addColumn<int>("orientation");
    QTest::newRow("red first") << 0 << false << 1;
    QTest::newRow("green first, upright") << 1 << false << 6;
    QTest::newRow("blue first, packed") << 2 << true << 3;
}

/// Exif beyond the facts, where it was taken, and a maker's note as a directory of its own whose text lies at
/// a place that is counted from the head of the file.
static void giveNotes(DngFrame &frame)
{
    using namespace tags;
    frame.exif = {
        shorts(37383, {5}),                                                             // MeteringMode
        shorts(37385, {16}),                                                            // Flash
        srationals(37380, {-1.0 / 3}),                                                  // ExposureBiasValue
        ascii(36881, "+02:00"),                                                         // OffsetTimeOriginal
        undefined(37510, {'A', 'S', 'C', 'I', 'I', 0, 0, 0, 'r', 'o', 'w', ' ', '7'})}; // UserComment
    frame.gps = {bytes(0, {2, 3, 0, 0}),
                 ascii(1, "S"),
                 rationals(2, {41, 17, 12.5}),
                 ascii(3, "E"),
                 rationals(4, {174, 46, 30}),
                 bytes(5, {0}),
                 rationals(6, {12})};
    const std::string text = "skerrow raking arm 3";
    Bytes note{1, 0, 0x21, 0, 2, 0, uint8_t(text.size() + 1), 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0};
    note.insert(note.end(), text.begin(), text.end());
    note.push_back(0);
    const auto put = [&] {
        std::erase_if(frame.exif, [](const Tag &tag) { return tag.id == 37500; });
        frame.exif.push_back(undefined(37500, note));
    };
    put();
    const auto file = dngFileOf(frame, DngPacking::None);
    const auto place =
        uint32_t(std::search(file.begin(), file.end(), text.begin(), text.end()) - file.begin());
    for (size_t i = 0; i < 4; ++i)
        note[10 + i] = uint8_t(place >> (8 * i));
    put();
}

/// Samples equal to the bit and the same facts, as the raw library and exiftool read both files.
void DngCopiesTest::aFrameOfAnotherFormatBecomesADng()
{
    QFETCH(int, first);
    QFETCH(bool, isPacked);
    QFETCH(int, orientation);
    std::vector<uint16_t> samples(96 * 64);
    for (size_t i = 0; i < samples.size(); ++i)
        samples[i] = uint16_t((i * 7919) % 15000 + 40);
    DngFrame made;
    made.width = 96;
    made.height = 64;
    made.samples = samples;
    made.filter = first == 0   ? std::vector<uint8_t>{0, 1, 1, 2}
                  : first == 1 ? std::vector<uint8_t>{1, 0, 2, 1}
                               : std::vector<uint8_t>{2, 1, 1, 0};
    made.white = 16383;
    made.camera = testing::sampleReading().camera;
    made.orientation = orientation;
    made.artist = "Ronja Lund";
    const std::string xmp =
        "<x:xmpmeta xmlns:x='adobe:ns:meta/'><rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/"
        "22-rdf-syntax-ns#'><rdf:Description rdf:about='' xmlns:xmp='http://ns.adobe.com/xap/"
        "1.0/' xmp:Rating='4'/></rdf:RDF></x:xmpmeta>";
    made.xmp.assign(xmp.begin(), xmp.end());
    giveNotes(made);
    const auto original = tiffEpOf(dngFileOf(made, isPacked ? DngPacking::LosslessJpeg : DngPacking::None));
    const auto before = m_folder.filePath("maker.tif"), after = m_folder.filePath("copy.dng");
    QVERIFY(bool(writeWhole({{before.toStdString(), original}})));
    const auto frame = openFrame(before.toStdString());
    QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
    QVERIFY(frame->mosaic && !frame->rendered);
    ExportRequest request;
    request.dng = {before.toStdString(), after.toStdString()};
    request.force = true;
    const auto c = testing::sampleCalibration();
    const auto written = exportCalibration(c, request);
    QVERIFY2(bool(written), written ? "" : written.error().message.c_str());
    QCOMPARE(*readWhole(before.toStdString()), original);

    LibRaw a, b;
    for (auto *raw : {&a, &b})
        QCOMPARE(raw->open_file((raw == &a ? before : after).toLocal8Bit().constData()), LIBRAW_SUCCESS);
    QCOMPARE(a.unpack(), LIBRAW_SUCCESS);
    QCOMPARE(b.unpack(), LIBRAW_SUCCESS);
    const auto &sizes = b.imgdata.sizes;
    QCOMPARE(sizes.width, a.imgdata.sizes.width);
    QCOMPARE(sizes.height, a.imgdata.sizes.height);
    QCOMPARE(sizes.flip, a.imgdata.sizes.flip);
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 96; ++x) {
            QCOMPARE(b.imgdata.rawdata.raw_image[y * int(sizes.raw_pitch) / 2 + x],
                     samples[size_t(y * 96 + x)]);
            QCOMPARE(b.COLOR(y, x), a.COLOR(y, x));
        }
    for (size_t i = 0; i < 3; ++i)
        QVERIFY(std::abs(double(b.imgdata.color.dng_levels.asshotneutral[i]) - 1 / c.multipliers[i]) < 1e-4);
    const auto facts = [](const QString &file) {
        QProcess process;
        process.start("exiftool", {"-j", "-n", "-u", "-Make", "-Model", "-Artist", "-XMP:Rating",
                                   "-Orientation", "-ExifIFD:all", "-GPS:all", "-MakerNotes:all", file});
        process.waitForFinished();
        auto out = QJsonDocument::fromJson(process.readAllStandardOutput()).array().first().toObject();
        out.remove("SourceFile");
        return out;
    };
    const auto told = facts(after);
    QCOMPARE(told, facts(before));
    QCOMPARE(told["MeteringMode"].toInt(), 5);
    QCOMPARE(told["UserComment"].toString(), QString("row 7"));
    QVERIFY(told["GPSAltitude"].toDouble() > 0);
    QVERIFY(told.size() > 20);
    QProcess strict;
    strict.start("exiftool", {"-validate", "-warning", "-error", "-a", after});
    QVERIFY(strict.waitForFinished());
    auto said = strict.readAllStandardOutput().split('\n');
    said.removeIf([](const QByteArray &line) { // DNG 1.6's IlluminantData is newer than this reader
        return !line.startsWith("Warning") || line.contains("IlluminantData1");
    });
    QVERIFY2(said.isEmpty(), said.join('\n').constData());
    QCOMPARE(told["Unknown_0x0021"].toString(), QString("skerrow raking arm 3"));
}

static const testing::Registered<DngCopiesTest> registeredDngCopiesTest("dng_copies_test");
#include "dng_copies_test.moc"
