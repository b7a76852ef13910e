#include "core/formats/dng_frame.h"
#include "core/raw/open_frame.h"
#include "core/sim/random.h"
#include "core/sim/studio.h"
#include "support/registry.h"

#include <QFile>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace wavechroma;

class DngFrameTest : public QObject
{
    Q_OBJECT
private slots:
    void librawDecodesExactlyTheSamplesWritten_data();
    void librawDecodesExactlyTheSamplesWritten();
    void factsComeBack();
    void aStrictReaderHasNothingToSay();
    void cutAndScrambledFilesAreRefused();

private:
    QTemporaryDir m_folder;
    std::vector<uint16_t> m_samples;
    DngFrame frame(int width, int height, std::array<uint8_t, 4> filter, int white);
    QString written(const DngFrame &frame, DngPacking packing, const char *name = "frame.dng");
};

DngFrame DngFrameTest::frame(int width, int height, std::array<uint8_t, 4> filter, int white)
{
    sim::Random random(9);
    m_samples.resize(size_t(width) * size_t(height));
    for (auto &s : m_samples) // smooth, with noise, extremes and single spikes
        s = uint16_t(std::clamp(300 + random.normal() * 20 + (random.unit() < 0.02 ? white : 0) -
                                    (random.unit() < 0.02 ? 400 : 0),
                                0.0, double(white)));
    DngFrame f;
    f.width = width;
    f.height = height;
    f.samples = m_samples;
    f.filter = {filter.begin(), filter.end()};
    f.black = 64;
    f.white = white;
    f.camera = {"Skerrow",
                "Tarn 2",
                "SK20417",
                "Skerrow 60 mm f/2.8",
                400,
                1 / 125.0,
                5.6,
                "2026-10-14T09:22:41",
                "Skerrow Tarn 2"};
    f.colorMatrix = sim::publishedColorMatrix(sim::camera("Tarn 2"));
    f.asShotNeutral = {0.6, 1, 0.55};
    f.orientation = 6;
    return f;
}

QString DngFrameTest::written(const DngFrame &f, DngPacking packing, const char *name)
{
    const QString path = m_folder.filePath(name);
    const auto done = writeWhole({{path.toStdString(), dngFileOf(f, packing)}});
    return done ? path : QString();
}

void DngFrameTest::librawDecodesExactlyTheSamplesWritten_data()
{
    QTest::addColumn<int>("width");
    QTest::addColumn<int>("height");
    QTest::addColumn<int>("white");
    QTest::addColumn<QList<int>>("filter");
    QTest::addColumn<bool>("packed");
    const struct
    {
        const char *name;
        QList<int> filter;
    } filters[] = {
        {"RGGB", {0, 1, 1, 2}}, {"GRBG", {1, 0, 2, 1}}, {"GBRG", {1, 2, 0, 1}}, {"BGGR", {2, 1, 1, 0}}};
    for (const auto &filter : filters)
        for (const int white : {1023, 16383, 65535})
            for (const bool packed : {false, true})
                QTest::addRow("%s white %d %s", filter.name, white, packed ? "packed" : "plain")
                    << 126 << 84 << white << filter.filter << packed;
}

void DngFrameTest::librawDecodesExactlyTheSamplesWritten()
{
    QFETCH(int, width);
    QFETCH(int, height);
    QFETCH(int, white);
    QFETCH(QList<int>, filter);
    QFETCH(bool, packed);
    const auto f =
        frame(width, height, {uint8_t(filter[0]), uint8_t(filter[1]), uint8_t(filter[2]), uint8_t(filter[3])},
              white);
    const auto opened =
        openFrame(written(f, packed ? DngPacking::LosslessJpeg : DngPacking::None).toStdString());
    QVERIFY2(bool(opened), opened ? "" : opened.error().message.c_str());
    QVERIFY(opened->mosaic);
    QCOMPARE(opened->width, width);
    QCOMPARE(opened->height, height);
    QCOMPARE(double(opened->mosaic->white), double(white));
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            QCOMPARE(opened->mosaic->code(x, y), m_samples[size_t(y * width + x)]);
            QCOMPARE(int(opened->mosaic->channel[opened->mosaic->cell(x, y)]), filter[2 * (y % 2) + x % 2]);
            QCOMPARE(double(opened->mosaic->black[opened->mosaic->cell(x, y)]), 64.0);
        }
}

void DngFrameTest::factsComeBack()
{
    auto f = frame(96, 64, {0, 1, 1, 2}, 16383);
    f.camera.focalMm = 4.2;
    f.camera.balancesItself = true;
    const auto opened = *openFrame(written(f, DngPacking::LosslessJpeg).toStdString());
    QCOMPARE(opened.camera, f.camera);
    QCOMPARE(opened.orientation, 6);
    QCOMPARE(opened.fileColor.matrices.size(), size_t(1));
    QCOMPARE(opened.fileColor.matrices[0].illuminantCode, 21);
    for (int i = 0; i < 3; ++i) {
        QVERIFY(std::abs((*opened.fileColor.asShotNeutral)[size_t(i)] - f.asShotNeutral[size_t(i)]) < 1e-6);
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs(opened.fileColor.matrices[0].cameraFromXyz(i, j) - f.colorMatrix(i, j)) < 1e-6);
    }
}

void DngFrameTest::aStrictReaderHasNothingToSay()
{
    const QString tool = QStandardPaths::findExecutable("exiftool");
    if (tool.isEmpty())
        QSKIP("exiftool is not installed");
    QProcess reader;
    reader.start(tool, {"-validate", "-warning", "-error", "-a",
                        written(frame(96, 64, {1, 2, 0, 1}, 4095), DngPacking::LosslessJpeg)});
    QVERIFY(reader.waitForFinished());
    const QString said = reader.readAllStandardOutput().trimmed() + reader.readAllStandardError();
    QVERIFY2(said.contains("OK") && !said.contains("Warning"), qPrintable(said));
}

void DngFrameTest::cutAndScrambledFilesAreRefused()
{
    const auto bytes = dngFileOf(frame(128, 96, {0, 1, 1, 2}, 16383));
    sim::Random random(4);
    for (const double share : {0.0, 0.02, 0.3, 0.7, 0.97}) {
        const auto size = ptrdiff_t(share * double(bytes.size()));
        const auto path = m_folder.filePath("cut.dng").toStdString();
        QVERIFY(bool(writeWhole({{path, Bytes(bytes.begin(), bytes.begin() + size)}})));
        const auto opened = openFrame(path);
        QVERIFY2(!opened, qPrintable(QString("opened with %1 of the file").arg(share)));
        QVERIFY(opened.error().message.find("cut.dng") != std::string::npos);
    }
    for (int i = 0; i < 60; ++i) { // headers gone wrong: any answer but a crash or a hang
        auto wild = bytes;
        for (int k = 0; k < 6; ++k)
            wild[size_t(random.below(500))] = uint8_t(random.next());
        const auto path = m_folder.filePath("wild.dng").toStdString();
        QVERIFY(bool(writeWhole({{path, wild}})));
        const auto opened = openFrame(path);
        QVERIFY(opened || !opened.error().message.empty());
    }
}

static const testing::Registered<DngFrameTest> registeredDngFrameTest("dng_frame_test");
#include "dng_frame_test.moc"
