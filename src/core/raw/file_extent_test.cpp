#include "core/raw/file_extent.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cstdint>
#include <cstdio>
#include <jpeglib.h>
#include <png.h>
#include <tiffio.h>
#include <vector>

using namespace wavechroma;

/// Files that are still being written are told from whole ones by what their own format says.
class FileExtentTest : public QObject
{
    Q_OBJECT
private slots:
    void onlyWholeFilesAreWhole_data();
    void onlyWholeFilesAreWhole();
    void otherKindsDoNotSay();

private:
    QString at(const char *name) const { return m_folder.filePath(name); }
    QByteArray content(const QString &name) const
    {
        QFile file(name);
        return file.open(QFile::ReadOnly) ? file.readAll() : QByteArray();
    }
    Extent extentWith(const QByteArray &bytes) const
    {
        QFile file(at("file"));
        if (!file.open(QFile::WriteOnly) || file.write(bytes) != bytes.size())
            qFatal("no room");
        file.close();
        return extentOf(at("file").toStdString());
    }
    QTemporaryDir m_folder;
};

/// `mode`: "wl" and "wb" are little and big endian. Directory behind the picture, as libtiff writes it.
static void writeTiff(const QString &name, const char *mode, bool inTiles)
{
    TIFF *tiff = TIFFOpen(name.toLocal8Bit(), mode);
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, 128);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, 128);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 8);
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISBLACK);
    std::vector<uint8_t> data(64 * 64, 77);
    if (inTiles) {
        TIFFSetField(tiff, TIFFTAG_TILEWIDTH, 64);
        TIFFSetField(tiff, TIFFTAG_TILELENGTH, 64);
        for (uint32_t i = 0; i < 4; ++i)
            TIFFWriteEncodedTile(tiff, i, data.data(), tmsize_t(data.size()));
    } else {
        TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, 16);
        for (uint32_t y = 0; y < 128; ++y)
            TIFFWriteScanline(tiff, data.data(), y);
    }
    TIFFClose(tiff);
}

static const std::vector<uint8_t> &stripes()
{
    static const std::vector<uint8_t> rgb = [] {
        std::vector<uint8_t> made(80 * 60 * 3);
        for (size_t i = 0; i < made.size(); ++i)
            made[i] = uint8_t(i * 37);
        return made;
    }();
    return rgb;
}

static void writePng(const QString &name)
{
    png_image image{};
    image.version = PNG_IMAGE_VERSION;
    image.width = 80;
    image.height = 60;
    image.format = PNG_FORMAT_RGB;
    QVERIFY(png_image_write_to_file(&image, name.toLocal8Bit(), 0, stripes().data(), 0, nullptr));
}

static void writeJpeg(const QString &name)
{
    jpeg_compress_struct jpeg{};
    jpeg_error_mgr errors{};
    jpeg.err = jpeg_std_error(&errors);
    jpeg_create_compress(&jpeg);
    std::FILE *file = std::fopen(name.toLocal8Bit(), "wb");
    jpeg_stdio_dest(&jpeg, file);
    jpeg.image_width = 80;
    jpeg.image_height = 60;
    jpeg.input_components = 3;
    jpeg.in_color_space = JCS_RGB;
    jpeg_set_defaults(&jpeg);
    jpeg_start_compress(&jpeg, TRUE);
    while (jpeg.next_scanline < jpeg.image_height) {
        auto *row = const_cast<JSAMPLE *>(stripes().data() + jpeg.next_scanline * 240);
        jpeg_write_scanlines(&jpeg, &row, 1);
    }
    jpeg_finish_compress(&jpeg);
    jpeg_destroy_compress(&jpeg);
    std::fclose(file);
}

void FileExtentTest::onlyWholeFilesAreWhole_data()
{
    QTest::addColumn<QByteArray>("bytes");
    writeTiff(at("l.tif"), "wl", false);
    writeTiff(at("b.tif"), "wb", false);
    writeTiff(at("t.tif"), "wl", true);
    writePng(at("p.png"));
    writeJpeg(at("p.jpg"));
    for (const char *name : {"l.tif", "b.tif", "t.tif", "p.png", "p.jpg"})
        QTest::newRow(name) << content(at(name));
}

void FileExtentTest::onlyWholeFilesAreWhole()
{
    QFETCH(QByteArray, bytes);
    QVERIFY(bytes.size() > 200);
    QCOMPARE(extentWith(bytes), Extent::Whole);
    for (const double share : {0.0, 0.02, 0.5, 0.9, 0.99}) {
        const auto there = bytes.left(int(share * double(bytes.size())));
        QCOMPARE(extentWith(there), Extent::Short);
        // of its full size from the start, as programs make room before they write
        QCOMPARE(extentWith(there + QByteArray(bytes.size() - there.size(), '\0')), Extent::Short);
    }
}

void FileExtentTest::otherKindsDoNotSay()
{
    QCOMPARE(extentWith("a text, not a picture of any kind"), Extent::Unknown);
    QCOMPARE(extentWith({}), Extent::Short);
    QCOMPARE(extentOf(at("nothing there").toStdString()), Extent::Short);
    // directories that lead round in a ring, or far outside
    QCOMPARE(extentWith(QByteArray("II\x2A\0\x08\0\0\0\0\0\x08\0\0\0\0\0", 16)), Extent::Short);
    QCOMPARE(extentWith(QByteArray("II\x2A\0\xF0\xFF\xFF\xFF\0\0\0\0\0\0\0\0", 16)), Extent::Short);
}

static const testing::Registered<FileExtentTest> registeredFileExtentTest("file_extent_test");
#include "file_extent_test.moc"
