#include "core/formats/picture_file.h"
#include "core/raw/open_frame.h"
#include "support/full_disk.h"
#include "support/registry.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <cmath>

using namespace wavechroma;

class PictureFileTest : public QObject
{
    Q_OBJECT
private slots:
    void picturesComeBack_data();
    void picturesComeBack();
    void otherProgramsReadTheFacts_data() { formats(); }
    void otherProgramsReadTheFacts();
    void theSamePictureIsTheSameFile_data() { formats(); }
    void theSamePictureIsTheSameFile();
    void whatIsThereIsNotReplacedUnasked();
    void anUnfinishedPictureLeavesNothing_data() { formats(); }
    void anUnfinishedPictureLeavesNothing();

private:
    static void formats();
    QTemporaryDir m_folder;
    [[nodiscard]] std::filesystem::path path(const char *name) const
    {
        return m_folder.filePath(name).toStdString();
    }
};

namespace {

constexpr int kWidth = 70, kHeight = 150; // more rows than a strip has

PictureFormat formatNamed(const QString &id)
{
    return id == "jpeg" ? PictureFormat::Jpeg : id == "png16" ? PictureFormat::Png16 : PictureFormat::Tiff16;
}

PictureFacts factsFor(const QString &format, const QString &space = "srgb")
{
    PictureFacts facts;
    facts.format = formatNamed(format);
    facts.width = kWidth;
    facts.height = kHeight;
    facts.space = *rgbSpaceFromId(space.toStdString());
    facts.camera = {"Skerrow", "Tarn 2",  "SK20417", "Skerrow 60 mm f/2.8",
                    200,       1 / 125.0, 5.6,       "2026-10-14T09:22:41",
                    ""};
    facts.camera.focalMm = 60;
    facts.pixelsPerInch = 300;
    return facts;
}

std::vector<uint16_t> codes()
{
    std::vector<uint16_t> out;
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            out.insert(out.end(),
                       {uint16_t(x * 900), uint16_t(y * 430), uint16_t(65535 - x * 400 - y * 200)});
    return out;
}

bool write(const std::filesystem::path &file, const PictureFacts &facts, bool replace = false)
{
    auto picture = PictureFile::begin(file, facts, replace);
    const auto all = codes();
    return picture && (*picture)->add(all.data(), 100) &&
           (*picture)->add(all.data() + size_t(100 * kWidth * 3), kHeight - 100) && (*picture)->finish();
}

} // namespace

void PictureFileTest::formats()
{
    QTest::addColumn<QString>("format");
    for (const char *format : {"tiff16", "png16", "jpeg"})
        QTest::newRow(format) << format;
}

void PictureFileTest::picturesComeBack_data()
{
    QTest::addColumn<QString>("format");
    QTest::addColumn<QString>("space");
    QTest::addColumn<bool>("deflate");
    for (const char *format : {"tiff16", "png16", "jpeg"})
        for (const auto &space : rgbSpaces())
            QTest::addRow("%s %s", format, space.id.data())
                << format << QString::fromUtf8(space.id.data()) << false;
    QTest::newRow("tiff16 packed") << "tiff16"
                                   << "romm" << true;
}

void PictureFileTest::picturesComeBack()
{
    QFETCH(QString, format);
    QFETCH(QString, space);
    QFETCH(bool, deflate);
    auto facts = factsFor(format, space);
    facts.deflate = deflate;
    const auto file = path("back.bin");
    QVERIFY(write(file, facts, true));
    const auto frame = openFrame(file); // linear, by the profile in it
    QVERIFY(frame && frame->rendered && frame->width == kWidth && frame->height == kHeight);
    QVERIFY(frame->assumedSpace.empty());
    QCOMPARE(frame->orientation, 1);
    const auto &camera = frame->camera;
    QVERIFY(camera.make == "Skerrow" && camera.model == "Tarn 2" && camera.serial == "SK20417" &&
            camera.lens == "Skerrow 60 mm f/2.8");
    QVERIFY(camera.iso == 200 && std::abs(camera.exposureSeconds - 1 / 125.0) < 1e-6 &&
            std::abs(camera.fNumber - 5.6) < 1e-4 && std::abs(camera.focalMm - 60) < 1e-4);
    QVERIFY(camera.isRendered);
    QCOMPARE(QString::fromStdString(camera.capturedAt), QString("2026-10-14T09:22:41"));
    // the profile says what the codes mean: the space's own primaries and transfer, white kept
    const auto meant = xyzD50FromRgbMatrix(facts.space);
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            QVERIFY(std::abs((*frame->fileColor.xyzD50FromRendered)(i, j) - meant(i, j)) < 2e-4);
    const auto sent = codes();
    const double most = format == "jpeg" ? 0.06 : 2e-4;
    for (size_t i = 0; i < sent.size(); ++i) {
        const double light = linearised(facts.space.transfer, sent[i] / 65535.0);
        const double read = double(frame->picture->value(i / 3, i % 3));
        QVERIFY2(std::abs(read - light) < most, qPrintable(QString("%1: %2 %3").arg(i).arg(read).arg(light)));
    }
}

void PictureFileTest::otherProgramsReadTheFacts()
{
    QFETCH(QString, format);
    const auto program = QStandardPaths::findExecutable("exiftool");
    QVERIFY(!program.isEmpty());
    const auto file = path("facts.bin");
    QVERIFY(write(file, factsFor(format), true));
    QProcess process;
    process.start(program, {"-s", "-validate", "-warning", "-a", QString::fromStdString(file.string())});
    QVERIFY(process.waitForFinished());
    const auto said = QString::fromUtf8(process.readAllStandardOutput()).simplified();
    for (const char *fact : {"Model : Tarn 2", "LensModel : Skerrow 60 mm f/2.8", "SerialNumber : SK20417",
                             "ISO : 200", "ExposureTime : 1/125", "FNumber : 5.6",
                             "ProfileDescription : sRGB", "DateTimeOriginal : 2026:10:14 09:22:41"}) {
        process.start(program, {"-s", QString(fact).section(' ', 0, 0).prepend('-'),
                                QString::fromStdString(file.string())});
        QVERIFY(process.waitForFinished());
        QCOMPARE(QString::fromUtf8(process.readAllStandardOutput()).simplified(), QString(fact));
    }
    process.start(program, {"-s3", "-n", "-XResolution", QString::fromStdString(file.string())});
    QVERIFY(process.waitForFinished());
    QVERIFY(std::abs(process.readAllStandardOutput().trimmed().toDouble() - 300) < 0.1);
    QVERIFY2(said.contains("Validate : OK"), qPrintable(said));
}

void PictureFileTest::theSamePictureIsTheSameFile()
{
    QFETCH(QString, format);
    QVERIFY(write(path("one.bin"), factsFor(format), true));
    QTest::qSleep(1100); // the next second
    QVERIFY(write(path("two.bin"), factsFor(format), true));
    QVERIFY(*readWhole(path("one.bin")) == *readWhole(path("two.bin")));
}

void PictureFileTest::whatIsThereIsNotReplacedUnasked()
{
    const auto file = path("kept.tif");
    QVERIFY(writeWhole({{file, bytesOf("mine")}}));
    const auto refused = PictureFile::begin(file, factsFor("tiff16"), false);
    QVERIFY(!refused && refused.error().message.find("kept.tif") != std::string::npos);
    // one that comes into being while the picture is made is kept, too
    const auto late = path("late.tif");
    auto picture = PictureFile::begin(late, factsFor("tiff16"), false);
    QVERIFY(picture);
    const auto all = codes();
    QVERIFY((*picture)->add(all.data(), kHeight));
    QVERIFY(writeWhole({{late, bytesOf("mine")}}));
    QVERIFY(!(*picture)->finish());
    QCOMPARE(QString::fromStdString(*readText(late)), QString("mine"));
    QVERIFY(write(file, factsFor("tiff16"), true));
    QVERIFY(openFrame(file));
}

void PictureFileTest::anUnfinishedPictureLeavesNothing()
{
    QFETCH(QString, format);
    QTemporaryDir folder;
    {
        auto picture = PictureFile::begin(folder.filePath("cut.bin").toStdString(), factsFor(format), false);
        QVERIFY(picture);
        const auto all = codes();
        QVERIFY((*picture)->add(all.data(), 100));
    }
    {
        const testing::FullDisk full(2000);
        auto picture = PictureFile::begin(folder.filePath("full.bin").toStdString(), factsFor(format), false);
        QVERIFY(picture);
        const auto all = codes();
        const auto added = (*picture)->add(all.data(), kHeight), done = added ? (*picture)->finish() : added;
        QVERIFY(!done && done.error().message.find("full.bin") != std::string::npos);
    }
    QVERIFY(QDir(folder.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot).isEmpty());
    QVERIFY(
        !PictureFile::begin(folder.filePath("no/such/folder.tif").toStdString(), factsFor(format), false));
}

static const testing::Registered<PictureFileTest> registeredPictureFileTest("picture_file_test");
#include "picture_file_test.moc"
