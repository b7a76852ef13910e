#include "core/color/rgb_space.h"
#include "core/raw/file_digest.h"
#include "core/raw/open_frame.h"
#include "support/registry.h"

#include <QBuffer>
#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <array>
#include <cmath>
#include <exiv2/exiv2.hpp>
#include <jpeglib.h>
#include <lcms2.h>
#include <png.h>
#include <thread>
#include <tiffio.h>

using namespace wavechroma;

class OpenFrameTest : public QObject
{
    Q_OBJECT
private slots:
    void aProfileOfTablesGivesItsLight();
    void tiffBecomesLinear();
    void pngBecomesLinear();
    void jpegBecomesLinear();
    void primariesComeFromTheProfile();
    void opacityIsDividedOut();
    void aPngSaysItsSpace_data();
    void aPngSaysItsSpace();
    void aJpegSaysItsSpace();
    void picturesWithoutAProfileAreTakenForWhatIsSaid();
    void otherPicturesAreToldByWhatTheyAre_data();
    void otherPicturesAreToldByWhatTheyAre();
    void brokenFilesAreRefusedWithTheirName_data();
    void brokenFilesAreRefusedWithTheirName();
    void hashesAreSha256();
    void metadataIsReadByManyThreads();

private:
    QString path(const char *name) const { return m_folder.filePath(name); }
    QTemporaryDir m_folder;
};

namespace {

/// sRGB code value 188 of 255 is 0.5029 of linear light (IEC 61966-2-1).
constexpr double kLinear188 = 0.502886;

void expectFlat(const RawFrame &frame, double r, double g, double b, double within)
{
    QVERIFY(frame.rendered && frame.picture);
    QCOMPARE(frame.width, 40);
    QCOMPARE(frame.height, 30);
    const auto pixel = [&](size_t colour) { return double(frame.picture->value(15 * 40 + 20, colour)); };
    QVERIFY2(std::abs(pixel(0) - r) < within && std::abs(pixel(1) - g) < within &&
                 std::abs(pixel(2) - b) < within,
             qPrintable(QString("%1 %2 %3").arg(pixel(0)).arg(pixel(1)).arg(pixel(2))));
}

/// One colour of 16-bit codes all over, turned right, with the profile if there is one.
void writeTiff(const QString &file, const std::array<uint16_t, 3> &codes, const QByteArray &profile = {},
               const QByteArray &xmp = {})
{
    TIFF *tiff = TIFFOpen(file.toLocal8Bit(), "w");
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, 40);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, 30);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 16);
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, 3);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_RGB);
    TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    TIFFSetField(tiff, TIFFTAG_ORIENTATION, ORIENTATION_RIGHTTOP);
    if (!profile.isEmpty())
        TIFFSetField(tiff, TIFFTAG_ICCPROFILE, uint32_t(profile.size()), profile.constData());
    if (!xmp.isEmpty())
        TIFFSetField(tiff, TIFFTAG_XMLPACKET, uint32_t(xmp.size()), xmp.constData());
    std::vector<uint16_t> row;
    for (int x = 0; x < 40; ++x)
        row.insert(row.end(), codes.begin(), codes.end());
    for (uint32_t y = 0; y < 30; ++y)
        TIFFWriteScanline(tiff, row.data(), y);
    TIFFClose(tiff);
}

/// A display profile of ICC version 4 with the primaries of IEC 61966-2-5 and a plain power.
QByteArray wideProfile(double power)
{
    const cmsCIExyY white{0.3127, 0.3290, 1};
    const cmsCIExyYTRIPLE primaries{{0.64, 0.33, 1}, {0.21, 0.71, 1}, {0.15, 0.06, 1}};
    cmsToneCurve *curve = cmsBuildGamma(nullptr, power);
    cmsToneCurve *curves[] = {curve, curve, curve};
    cmsHPROFILE profile = cmsCreateRGBProfile(&white, &primaries, curves);
    cmsFreeToneCurve(curve);
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile, nullptr, &size);
    QByteArray out(qsizetype(size), 0);
    cmsSaveProfileToMem(profile, out.data(), &size);
    cmsCloseProfile(profile);
    return out;
}

/// One grey of code 188.
void writeGreyJpeg(const QString &name)
{
    FILE *file = fopen(name.toLocal8Bit(), "wb");
    jpeg_compress_struct c{};
    jpeg_error_mgr errors{};
    c.err = jpeg_std_error(&errors);
    jpeg_create_compress(&c);
    jpeg_stdio_dest(&c, file);
    c.image_width = 40;
    c.image_height = 30;
    c.input_components = 3;
    c.in_color_space = JCS_RGB;
    jpeg_set_defaults(&c);
    jpeg_set_quality(&c, 100, TRUE);
    jpeg_start_compress(&c, TRUE);
    std::vector<uint8_t> row(120, 188);
    JSAMPROW rows[] = {row.data()};
    while (c.next_scanline < 30)
        jpeg_write_scanlines(&c, rows, 1);
    jpeg_finish_compress(&c);
    jpeg_destroy_compress(&c);
    fclose(file);
}

} // namespace

void OpenFrameTest::tiffBecomesLinear()
{
    writeTiff(path("a.tif"), {188 * 257, 65535, 0});
    const auto frame = openFrame(path("a.tif").toStdString());
    QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
    expectFlat(*frame, kLinear188, 1, 0, 1e-4);
    QCOMPARE(frame->orientation, 6); // stays as stored, the flag is told
}

void OpenFrameTest::pngBecomesLinear()
{
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = 40;
    image.height = 30;
    image.format = PNG_FORMAT_RGB;
    std::vector<uint8_t> pixels;
    for (int i = 0; i < 1200; ++i)
        pixels.insert(pixels.end(), {188, 0, 255});
    QVERIFY(png_image_write_to_file(&image, path("a.png").toLocal8Bit(), 0, pixels.data(), 0, nullptr));
    expectFlat(*openFrame(path("a.png").toStdString()), kLinear188, 0, 1, 1e-4);
}

void OpenFrameTest::jpegBecomesLinear()
{
    writeGreyJpeg(path("a.jpg"));
    expectFlat(*openFrame(path("a.jpg").toStdString()), kLinear188, kLinear188, kLinear188,
               0.006); // one code value
}

void OpenFrameTest::primariesComeFromTheProfile()
{
    // Linear RGB to XYZ at D50 as tables of RGB spaces print them, to their four or five places.
    const double srgb[] = {0.43607, 0.38515, 0.14307, 0.22249, 0.71687, 0.06061, 0.01392, 0.09708, 0.71410};
    const double wide[] = {0.60974, 0.20528, 0.14919, 0.31111, 0.62567, 0.06322, 0.01947, 0.06087, 0.74457};
    writeTiff(path("plain.tif"), {30000, 30000, 30000});
    writeTiff(path("wide.tif"), {32768, 65535, 0}, wideProfile(2.2));
    const auto expect = [&](const char *name, const double *wanted) {
        const auto frame = openFrame(path(name).toStdString());
        QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
        QVERIFY(frame->fileColor.xyzD50FromRendered && frame->fileColor.matrices.empty());
        const auto &matrix = *frame->fileColor.xyzD50FromRendered;
        for (int i = 0; i < 9; ++i)
            QVERIFY2(std::abs(matrix(i / 3, i % 3) - wanted[i]) < 1e-3,
                     qPrintable(QString("%1 entry %2: %3").arg(name).arg(i).arg(matrix(i / 3, i % 3))));
        const double white[] = {0.9642, 1, 0.8249};
        for (int row = 0; row < 3; ++row)
            QVERIFY(std::abs(matrix(row, 0) + matrix(row, 1) + matrix(row, 2) - white[row]) < 1e-12);
    };
    expect("plain.tif", srgb);
    expect("wide.tif", wide);
    expectFlat(*openFrame(path("wide.tif").toStdString()), std::pow(32768 / 65535.0, 2.2), 1, 0, 2e-4);
}

/// Half of a full code under an opacity of a half is full.
void OpenFrameTest::opacityIsDividedOut()
{
    for (const int kind : {EXTRASAMPLE_ASSOCALPHA, EXTRASAMPLE_UNASSALPHA}) {
        TIFF *tiff = TIFFOpen(path("alpha.tif").toLocal8Bit(), "w");
        TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, 40);
        TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, 30);
        TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 16);
        TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, 4);
        TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_RGB);
        TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        const uint16_t kinds[] = {uint16_t(kind)};
        TIFFSetField(tiff, TIFFTAG_EXTRASAMPLES, 1, kinds);
        std::vector<uint16_t> row;
        for (int x = 0; x < 40; ++x)
            row.insert(row.end(), {94 * 257, 188 * 257 / 4, 0, 32767});
        for (uint32_t y = 0; y < 30; ++y)
            TIFFWriteScanline(tiff, row.data(), y);
        TIFFClose(tiff);
        const bool divided = kind == EXTRASAMPLE_ASSOCALPHA;
        const double red = divided ? 188 / 255.0 : 94 / 255.0, green = divided ? 94 / 255.0 : 47 / 255.0;
        expectFlat(*openFrame(path("alpha.tif").toStdString()), linearised(Transfer::Srgb, red),
                   linearised(Transfer::Srgb, green), 0, 1e-4);
    }
}

void OpenFrameTest::aPngSaysItsSpace_data()
{
    QTest::addColumn<QByteArray>("cicp");
    QTest::addColumn<double>("gamma");
    QTest::addColumn<bool>("wide");
    QTest::addColumn<double>("light"); ///< of code 188 of 255; −1: refused
    QTest::addColumn<double>("redY");  ///< of the red primary
    QTest::newRow("nothing") << QByteArray() << 0.0 << false << double(kLinear188) << 0.2225;
    QTest::newRow("a gamma of 1") << QByteArray() << 1.0 << false << 188 / 255.0 << 0.2225;
    QTest::newRow("1/1.8") << QByteArray() << 1 / 1.8 << false << std::pow(188 / 255.0, 1.8) << 0.2225;
    QTest::newRow("primaries of opRGB")
        << QByteArray() << 1 / 2.2 << true << std::pow(188 / 255.0, 2.2) << 0.3111;
    QTest::newRow("cICP of Display P3")
        << QByteArray("\x0c\x0d\x00\x01", 4) << 0.0 << false << double(kLinear188) << 0.2412;
    QTest::newRow("cICP before gAMA")
        << QByteArray("\x01\x08\x00\x01", 4) << 1 / 1.8 << false << 188 / 255.0 << 0.2225;
    QTest::newRow("cICP of PQ") << QByteArray("\x09\x10\x00\x01", 4) << 0.0 << false << -1.0 << 0.0;
    QTest::newRow("cICP of narrow codes") << QByteArray("\x01\x0d\x00\x00", 4) << 0.0 << false << -1.0 << 0.0;
}

void OpenFrameTest::aPngSaysItsSpace()
{
    QFETCH(QByteArray, cicp);
    QFETCH(double, gamma);
    QFETCH(bool, wide);
    QFETCH(double, light);
    QFETCH(double, redY);
    FILE *file = fopen(path("space.png").toLocal8Bit(), "wb");
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
    png_infop info = png_create_info_struct(png);
    png_init_io(png, file);
    png_set_IHDR(png, info, 40, 30, 8, PNG_COLOR_TYPE_RGB, PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT,
                 PNG_FILTER_TYPE_DEFAULT);
    if (gamma > 0)
        png_set_gAMA(png, info, gamma);
    if (wide)
        png_set_cHRM(png, info, 0.3127, 0.3290, 0.64, 0.33, 0.21, 0.71, 0.15, 0.06);
    png_write_info_before_PLTE(png, info);
    if (!cicp.isEmpty())
        png_write_chunk(png, reinterpret_cast<png_const_bytep>("cICP"),
                        reinterpret_cast<png_const_bytep>(cicp.constData()), size_t(cicp.size()));
    png_write_info(png, info);
    std::vector<uint8_t> row(40 * 3, 188);
    for (int y = 0; y < 30; ++y)
        png_write_row(png, row.data());
    png_write_end(png, info);
    png_destroy_write_struct(&png, &info);
    fclose(file);
    const auto frame = openFrame(path("space.png").toStdString());
    QCOMPARE(bool(frame), light >= 0);
    if (!frame) {
        QVERIFY2(frame.error().message.find("cICP") != std::string::npos, frame.error().message.c_str());
        return;
    }
    expectFlat(*frame, light, light, light, 1e-4);
    QVERIFY(std::abs((*frame->fileColor.xyzD50FromRendered)(1, 0) - redY) < 1e-3);
    QCOMPARE(frame->assumedSpace.empty(), gamma > 0 || !cicp.isEmpty());
}

/// DCF: a file of the second space says so by its interoperability index.
void OpenFrameTest::aJpegSaysItsSpace()
{
    writeGreyJpeg(path("index.jpg"));
    Exiv2::ExifData exif;
    exif["Exif.Photo.ColorSpace"] = uint16_t(65535);
    exif["Exif.Iop.InteroperabilityIndex"] = "R03";
    const auto jpeg = Exiv2::ImageFactory::open(path("index.jpg").toStdString());
    jpeg->setExifData(exif);
    jpeg->writeMetadata();
    const auto frame = openFrame(path("index.jpg").toStdString());
    QVERIFY(frame && frame->assumedSpace.empty());
    const double light = std::pow(188 / 255.0, 563.0 / 256);
    expectFlat(*frame, light, light, light, 0.006);
    QVERIFY(std::abs((*frame->fileColor.xyzD50FromRendered)(1, 0) - 0.3111) < 1e-3);
}

void OpenFrameTest::picturesWithoutAProfileAreTakenForWhatIsSaid()
{
    writeTiff(path("plain.tif"), {188 * 257, 188 * 257, 188 * 257});
    const auto srgb = openFrame(path("plain.tif").toStdString());
    QCOMPARE(srgb->assumedSpace, std::string("sRGB"));
    const auto wide = openFrame(path("plain.tif").toStdString(), "romm");
    QCOMPARE(wide->assumedSpace, std::string("ROMM RGB"));
    expectFlat(*wide, std::pow(188 / 255.0, 1.8), std::pow(188 / 255.0, 1.8), std::pow(188 / 255.0, 1.8),
               1e-4);
    QVERIFY(wide->fileColor.xyzD50FromRendered->operator()(0, 0) >
            srgb->fileColor.xyzD50FromRendered->operator()(0, 0) + 0.2);
    QVERIFY(!openFrame(path("plain.tif").toStdString(), "wide"));
    writeTiff(path("told.tif"), {1000, 1000, 1000}, wideProfile(1.8));
    QCOMPARE(openFrame(path("told.tif").toStdString(), "romm")->assumedSpace,
             std::string()); // it says its own
}

void OpenFrameTest::otherPicturesAreToldByWhatTheyAre_data()
{
    QTest::addColumn<int>("photometric");
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<QString>("said");
    QTest::newRow("inks") << int(PHOTOMETRIC_SEPARATED) << QByteArray() << "inks (CMYK)";
    QTest::newRow("palette") << int(PHOTOMETRIC_PALETTE) << QByteArray() << "palette colours";
    QTest::newRow("Lab") << int(PHOTOMETRIC_CIELAB) << QByteArray() << "in Lab";
    QTest::newRow("WebP") << -1 << QByteArray("RIFF\x20\0\0\0WEBPVP8 ", 16) << "a WebP picture";
    QTest::newRow("HEIF") << -1
                          << QByteArray("\0\0\0\x18"
                                        "ftypheic",
                                        12)
                          << "a HEIF picture";
    QTest::newRow("GIF") << -1 << QByteArray("GIF89a") << "a GIF picture";
}

void OpenFrameTest::otherPicturesAreToldByWhatTheyAre()
{
    QFETCH(int, photometric);
    QFETCH(QByteArray, bytes);
    QFETCH(QString, said);
    const auto file = path("other");
    if (photometric < 0) {
        QFile out(file);
        QVERIFY(out.open(QIODevice::WriteOnly));
        out.write(bytes + QByteArray(2000, 'x'));
    } else {
        TIFF *tiff = TIFFOpen(file.toLocal8Bit(), "w");
        const int samples = photometric == PHOTOMETRIC_SEPARATED ? 4
                            : photometric == PHOTOMETRIC_PALETTE ? 1
                                                                 : 3;
        TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, 40);
        TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, 30);
        TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 8);
        TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, samples);
        TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, photometric);
        TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        std::vector<uint16_t> map(256);
        if (photometric == PHOTOMETRIC_PALETTE)
            TIFFSetField(tiff, TIFFTAG_COLORMAP, map.data(), map.data(), map.data());
        std::vector<uint8_t> row(size_t(40 * samples), 90);
        for (uint32_t y = 0; y < 30; ++y)
            TIFFWriteScanline(tiff, row.data(), y);
        TIFFClose(tiff);
    }
    const auto frame = openFrame(file.toStdString());
    QVERIFY(!frame);
    QVERIFY2(frame.error().message.find(said.toStdString()) != std::string::npos &&
                 frame.error().message.find("other") != std::string::npos,
             frame.error().message.c_str());
}

/// The metadata library parses XMP in one thread at a time, and asks for a lock to be told so.
void OpenFrameTest::metadataIsReadByManyThreads()
{
    const QByteArray packet =
        "<rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>"
        "<rdf:Description xmlns:dc='http://purl.org/dc/elements/1.1/'><dc:title><rdf:Alt>"
        "<rdf:li xml:lang='x-default'>dye lots</rdf:li></rdf:Alt></dc:title></rdf:Description></rdf:RDF>";
    writeTiff(path("xmp.tif"), {20000, 30000, 40000}, {}, packet);
    std::atomic<int> opened = 0;
    std::vector<std::thread> threads;
    for (int t = 0; t < 8; ++t)
        threads.emplace_back([&] {
            for (int i = 0; i < 40; ++i)
                opened += bool(openFrame(path("xmp.tif").toStdString()));
        });
    for (auto &thread : threads)
        thread.join();
    QCOMPARE(opened.load(), 320);
}

void OpenFrameTest::brokenFilesAreRefusedWithTheirName_data()
{
    QTest::addColumn<QByteArray>("content");
    QTest::newRow("empty") << QByteArray();
    QTest::newRow("text") << QByteArray("this is not a picture\n").repeated(50);
    QTest::newRow("a few words") << QByteArray("a letter\n");
    QTest::newRow("zeros") << QByteArray(100000, 0);
    QTest::newRow("jpeg magic only") << QByteArray("\xFF\xD8\xFF\xE0", 4);
    QTest::newRow("png magic only") << QByteArray("\x89PNG\r\n\x1A\n", 8);
    QTest::newRow("tiff with a directory far away") << QByteArray("II\x2A\x00\xF0\xFF\xFF\x7F", 8);
    QTest::newRow("tiff whose directory is itself") << QByteArray(
        "II\x2A\x00\x08\x00\x00\x00\x01\x00\x00\x01\x03\x00\x01\x00\x00\x00\x08\x00\x00\x00\x08\x00\x00\x00",
        26);
    QByteArray bomb("\x89PNG\r\n\x1A\n\0\0\0\rIHDR\x7F\xFF\xFF\xFF\x7F\xFF\xFF\xFF\x08\x02\0\0\0",
                    29); // 4 exapixels
    QTest::newRow("png of absurd size") << bomb + QByteArray(64, 'x');
}

void OpenFrameTest::brokenFilesAreRefusedWithTheirName()
{
    QFETCH(QByteArray, content);
    QFile file(path("broken.dng"));
    QVERIFY(file.open(QIODevice::WriteOnly | QIODevice::Truncate));
    file.write(content);
    file.close();
    const auto frame = openFrame(path("broken.dng").toStdString());
    QVERIFY(!frame);
    QCOMPARE(frame.error().fault, Fault::Unusable);
    QVERIFY2(frame.error().message.find("broken.dng: ") != std::string::npos, frame.error().message.c_str());
    // in words for a photographer, not the raw library's own
    QVERIFY2(!QByteArray::fromStdString(frame.error().message).contains("nput/output") &&
                 !QByteArray::fromStdString(frame.error().message).contains("RAW"),
             frame.error().message.c_str());
    QVERIFY(!openFrame(path("missing.dng").toStdString()));
    QVERIFY(!openFrame(m_folder.path().toStdString()));
}

void OpenFrameTest::hashesAreSha256()
{
    QFile file(path("abc"));
    QVERIFY(file.open(QIODevice::WriteOnly));
    file.write("abc");
    file.close();
    // FIPS 180-4, the one-block example
    QCOMPARE(*sha256OfFile(path("abc").toStdString()),
             std::string("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"));
}

/// sRGB as an input profile that holds nothing but a table to Lab.
static QByteArray tableProfile()
{
    const cmsHPROFILE srgb = cmsCreate_sRGBProfile(), lab = cmsCreateLab4Profile(nullptr);
    const cmsHTRANSFORM transform = cmsCreateTransform(srgb, TYPE_RGB_16, lab, TYPE_Lab_16,
                                                       INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOOPTIMIZE);
    cmsStage *table = cmsStageAllocCLut16bit(nullptr, 33, 3, 3, nullptr);
    const auto sample = [](const cmsUInt16Number *in, cmsUInt16Number *out, void *by) -> cmsInt32Number {
        cmsDoTransform(by, in, out, 1);
        return TRUE;
    };
    cmsStageSampleCLut16bit(table, sample, transform, 0);
    cmsPipeline *pipeline = cmsPipelineAlloc(nullptr, 3, 3);
    cmsPipelineInsertStage(pipeline, cmsAT_BEGIN, table);
    const cmsHPROFILE profile = cmsCreateProfilePlaceholder(nullptr);
    cmsSetProfileVersion(profile, 4.3);
    cmsSetDeviceClass(profile, cmsSigInputClass);
    cmsSetColorSpace(profile, cmsSigRgbData);
    cmsSetPCS(profile, cmsSigLabData);
    cmsWriteTag(profile, cmsSigAToB0Tag, pipeline);
    cmsUInt32Number size = 0;
    cmsSaveProfileToMem(profile, nullptr, &size);
    QByteArray bytes(int(size), 0);
    cmsSaveProfileToMem(profile, bytes.data(), &size);
    cmsPipelineFree(pipeline);
    cmsDeleteTransform(transform);
    for (const auto p : {srgb, lab, profile})
        cmsCloseProfile(p);
    return bytes;
}

void OpenFrameTest::aProfileOfTablesGivesItsLight()
{
    const auto file = path("tables.tif");
    writeTiff(file, {188 * 257, 188 * 257, 188 * 257}, tableProfile());
    const auto frame = openFrame(file.toStdString());
    QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
    // within what 33 points a side of a table in Lab give
    expectFlat(*frame, kLinear188, kLinear188, kLinear188, 0.003);
}

static const testing::Registered<OpenFrameTest> registeredOpenFrameTest("open_frame_test");
#include "open_frame_test.moc"
