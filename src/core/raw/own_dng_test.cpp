#include "core/formats/lossless_jpeg.h"
#include "core/formats/tag_directory.h"
#include "core/raw/decoders.h"
#include "core/raw/library_picture.h"
#include "core/raw/lossless_jpeg_reader.h"
#include "core/raw/open_frame.h"
#include "core/raw/own_dng.h"
#include "core/sim/random.h"
#include "support/registry.h"
#include "support/spec_judge.h"
#include "support/turned_round.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <malloc.h>

using namespace wavechroma;

/// The program's own decoder of DNG samples beside the raw library's: equal to the last bit, or left to it.
class OwnDngTest : public QObject
{
    Q_OBJECT
private slots:
    /// Fresh memory holds a pattern: what the library leaves unread is never right by chance, as left from an
    /// earlier frame.
    void initTestCase() { (void)mallopt(M_PERTURB, 0x5A); }
    void samplesAreThoseOfTheLibrary_data();
    void samplesAreThoseOfTheLibrary();
    void whatNobodyUnderstandsIsRefused_data();
    void whatNobodyUnderstandsIsRefused();
    void aPointTransformIsRefused();
    void theNeutralIsOfThisBody();
    void aWhitePointIsANeutral();
    void allOrientationsAreKept();
    void randomLayoutsAreReadAsTheSpecificationSays();
    void everyDifferenceComesBack();
    void otherFiltersAreDemosaicedByTheLibrary();
    void brokenFilesEndInAnAnswer();

private:
    QTemporaryDir m_folder;
};

namespace {

constexpr int kWidth = 150, kHeight = 70;

/// Noise on a slope, with jumps from end to end, so that every length of difference comes.
std::vector<uint16_t> samplesOf(int bits, int width = kWidth, int height = kHeight, uint64_t seed = 5)
{
    sim::Random random(seed);
    const double most = double((1 << bits) - 1);
    std::vector<uint16_t> out;
    for (int i = 0; i < width * height; ++i) {
        const double slope = 0.2 + 0.6 * (i % width) / width;
        const double v =
            random.unit() < 0.03 ? (random.unit() < 0.5 ? 0 : 1) : slope + 0.02 * random.normal();
        out.push_back(uint16_t(std::lround(std::clamp(v, 0.0, 1.0) * most)));
    }
    return out;
}

struct Layout
{
    int bits = 14;
    bool isPacked = true;
    int pieceWidth = kWidth, pieceHeight = kHeight;
    bool isTiled = false;
    std::vector<tags::Tag> more = {};
    std::vector<uint8_t> filter = {1, 0, 2, 1}; ///< 2 × 2 or 6 × 6
    int width = kWidth, height = kHeight;
    tags::Tag neutral = tags::rationals(50728, {0.5, 1, 0.7});
};

Bytes pieceOf(const std::vector<uint16_t> &samples, const Layout &layout, int x0, int y0)
{
    std::vector<uint16_t> piece;
    const int rows = layout.isTiled ? layout.pieceHeight : std::min(layout.pieceHeight, layout.height - y0);
    for (int y = y0; y < y0 + rows; ++y)
        for (int x = x0; x < x0 + layout.pieceWidth; ++x) // a tile goes on beyond the rim
            piece.push_back(samples[size_t(std::min(y, layout.height - 1)) * layout.width +
                                    size_t(std::min(x, layout.width - 1))]);
    if (layout.isPacked)
        return losslessJpeg(piece, layout.pieceWidth, rows, layout.bits);
    Bytes out;
    if (layout.bits % 8 == 0) {
        for (const auto v : piece) {
            out.push_back(uint8_t(v));
            if (layout.bits > 8)
                out.push_back(uint8_t(v >> 8));
        }
        return out;
    }
    for (int y = 0; y < rows; ++y) { // bit by bit, highest first, each row from a whole byte on
        int bit = 0;
        for (int x = 0; x < layout.pieceWidth; ++x)
            for (int b = layout.bits - 1; b >= 0; --b, ++bit) {
                if (bit % 8 == 0)
                    out.push_back(0);
                out.back() = uint8_t(out.back() |
                                     ((piece[size_t(y * layout.pieceWidth + x)] >> b & 1) << (7 - bit % 8)));
            }
    }
    return out;
}

Bytes fileOf(const std::vector<uint16_t> &samples, const Layout &layout)
{
    Bytes image;
    std::vector<uint32_t> offsets, sizes;
    for (int y = 0; y < layout.height; y += layout.pieceHeight)
        for (int x = 0; x < layout.width; x += layout.pieceWidth) {
            const auto piece = pieceOf(samples, layout, x, y);
            offsets.push_back(uint32_t(image.size()));
            sizes.push_back(uint32_t(piece.size()));
            image.insert(image.end(), piece.begin(), piece.end());
            image.resize((image.size() + 1) / 2 * 2);
        }
    const auto laid = [&](uint32_t start) {
        auto places = offsets;
        for (auto &place : places)
            place += start;
        tags::Directory d;
        d.tags = {tags::longs(254, {0}),
                  tags::longs(256, {uint32_t(layout.width)}),
                  tags::longs(257, {uint32_t(layout.height)}),
                  tags::shorts(258, {uint16_t(layout.isPacked ? 16 : layout.bits)}),
                  tags::shorts(259, {uint16_t(layout.isPacked ? 7 : 1)}),
                  tags::shorts(262, {32803}),
                  tags::ascii(271, "Skerrow"),
                  tags::ascii(272, "Tarn 2"),
                  tags::longs(layout.isTiled ? 324 : 273, places),
                  tags::shorts(277, {1}),
                  tags::longs(layout.isTiled ? 325 : 279, sizes),
                  tags::shorts(284, {1}),
                  tags::shorts(33421, layout.filter.size() == 4 ? std::vector<uint16_t>{2, 2}
                                                                : std::vector<uint16_t>{6, 6}),
                  tags::bytes(33422, layout.filter),
                  tags::bytes(50706, {1, 4, 0, 0}),
                  tags::ascii(50708, "Skerrow Tarn 2"),
                  tags::shorts(50713, {2, 2}),
                  tags::longs(50714, {8, 9, 10, 11}),
                  tags::longs(50717, {uint32_t((1 << layout.bits) - 1)}),
                  tags::srationals(50721, {1, 0, 0, 0, 1, 0, 0, 0, 1}),
                  tags::shorts(50778, {21}),
                  layout.neutral};
        if (layout.isTiled) {
            d.tags.push_back(tags::longs(322, {uint32_t(layout.pieceWidth)}));
            d.tags.push_back(tags::longs(323, {uint32_t(layout.pieceHeight)}));
        } else {
            d.tags.push_back(tags::longs(278, {uint32_t(layout.pieceHeight)}));
        }
        d.tags.insert(d.tags.end(), layout.more.begin(), layout.more.end());
        return tags::fileOf(d, 42, 50740, image); // DNGPrivateData has the image's place
    };
    const auto once = laid(0);
    return laid(uint32_t(once.size() - image.size()));
}

Result<RawFrame> decoded(const QString &file, const Bytes &bytes, bool byLibrary)
{
    if (const auto written = writeWhole({{file.toStdString(), bytes}}); !written)
        return written.error();
    const auto mapped = raw::MappedFile::open(file.toStdString());
    return mapped ? raw::decodeRaw(*mapped, "f.dng", byLibrary) : Result<RawFrame>(mapped.error());
}

/// Of the whole raw area, by the program's own decoder; null where it reads none.
std::shared_ptr<const raw::OwnSamples> ownOf(const Bytes &bytes)
{
    const auto layout = raw::dngLayoutOf(bytes, "f.dng");
    return layout ? raw::ownSamplesOf(*layout) : nullptr;
}

} // namespace

void OwnDngTest::samplesAreThoseOfTheLibrary_data()
{
    QTest::addColumn<int>("bits");
    QTest::addColumn<bool>("isPacked");
    QTest::addColumn<int>("width");
    QTest::addColumn<int>("height");
    QTest::addColumn<bool>("isTiled");
    QTest::addColumn<bool>("isBigEndian");
    for (const bool big : {false, true}) {
        const char *order = big ? "MM" : "II";
        QTest::addRow("%s, 16 bits, plain", order) << 16 << false << kWidth << kHeight << false << big;
        if (!big) // bytes have no order, and the helper would turn them
            for (const int bits : {8, 10, 12, 14})
                QTest::addRow("%s, %d bits, plain", order, bits)
                    << bits << false << kWidth << kHeight << false << big;
        if (!big) {
            QTest::addRow("%s, plain strips of 16 rows", order)
                << 16 << false << kWidth << 16 << false << big;
            QTest::addRow("%s, plain strips of 12 bits", order)
                << 12 << false << kWidth << 16 << false << big;
            QTest::addRow("%s, plain tiles", order) << 16 << false << 64 << 32 << true << big;
        }
        for (const int bits : {8, 10, 12, 14, 16})
            QTest::addRow("%s, %d bits, one strip", order, bits)
                << bits << true << kWidth << kHeight << false << big;
        QTest::addRow("%s, strips of 16 rows", order) << 14 << true << kWidth << 16 << false << big;
        QTest::addRow("%s, tiles of 64 x 32", order) << 12 << true << 64 << 32 << true << big;
        QTest::addRow("%s, one tile", order) << 14 << true << 160 << 80 << true << big;
    }
}

void OwnDngTest::samplesAreThoseOfTheLibrary()
{
    QFETCH(int, bits);
    QFETCH(bool, isPacked);
    QFETCH(int, width);
    QFETCH(int, height);
    QFETCH(bool, isTiled);
    QFETCH(bool, isBigEndian);
    const auto samples = samplesOf(bits);
    auto bytes = fileOf(samples, {bits, isPacked, width, height, isTiled});
    if (isBigEndian)
        bytes = testing::TurnedRound::of(bytes);
    const auto own = ownOf(bytes);
    QVERIFY(own && !own->isDamaged); // it is read here, not by the library
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x)
            QCOMPARE(own->samples[y * own->rowStride + x], samples[size_t(y * kWidth + x)]);
    const auto file = m_folder.filePath("f.dng");
    const auto here = decoded(file, bytes, false), there = decoded(file, bytes, true);
    QVERIFY2(bool(here), here ? "" : here.error().message.c_str());
    QVERIFY2(bool(there), there ? "" : there.error().message.c_str());
    // The library reads the first of several packed strips only, a tile that is wider than the picture askew,
    // and unpacked tiles as if they were one strip.
    const bool isMisread = isPacked ? !isTiled && height < kHeight : isTiled;
    if (isMisread && isPacked)
        QVERIFY(there->mosaic->code(3, kHeight - 1) != samples[size_t((kHeight - 1) * kWidth + 3)]);
    if (width > kWidth || isMisread)
        return;
    QVERIFY(here->width == there->width && here->height == there->height && here->mosaic && there->mosaic);
    const auto &a = *here->mosaic, &b = *there->mosaic;
    QVERIFY(a.channel == b.channel && a.black == b.black && a.white == b.white && a.periodX == b.periodX &&
            a.periodY == b.periodY);
    for (int y = 0; y < here->height; ++y)
        for (int x = 0; x < here->width; ++x)
            QCOMPARE(a.code(x, y), b.code(x, y));
    QVERIFY(here->camera.model == there->camera.model && here->fileColor == there->fileColor);
}

void OwnDngTest::whatNobodyUnderstandsIsRefused_data()
{
    QTest::addColumn<int>("tag");
    QTest::addColumn<int>("value");
    QTest::addColumn<QString>("name");
    QTest::newRow("bits lowest first") << 266 << 2 << "FillOrder";
    QTest::newRow("rows in two fields") << 50975 << 2 << "RowInterleaveFactor";
    QTest::newRow("columns in two fields") << 52547 << 2 << "ColumnInterleaveFactor";
    QTest::newRow("small blocks") << 50974 << 4 << "SubTileBlockSize";
    QTest::newRow("a staggered filter") << 50711 << 2 << "CFALayout";
    QTest::newRow("a tag that nobody defines") << 65001 << 1 << "65001";
    QTest::newRow("a predictor without deflate") << 317 << 2 << "compression";
}

void OwnDngTest::whatNobodyUnderstandsIsRefused()
{
    QFETCH(int, tag);
    QFETCH(int, value);
    QFETCH(QString, name);
    Layout layout{16, false};
    layout.more = {tags::shorts(uint16_t(tag), {uint16_t(value)})};
    const auto file = m_folder.filePath("f.dng");
    const auto frame = decoded(file, fileOf(samplesOf(16), layout), false);
    QVERIFY(!frame);
    QVERIFY2(frame.error().message.find(name.toStdString()) != std::string::npos,
             frame.error().message.c_str());
}

/// T.81: "Al" says by how many bits samples were shifted; the raw library does not look.
void OwnDngTest::aPointTransformIsRefused()
{
    auto bytes = fileOf(samplesOf(14), {});
    const Bytes scan{0xFF, 0xDA};
    const auto at = std::search(bytes.begin(), bytes.end(), scan.begin(), scan.end());
    QVERIFY(at != bytes.end());
    const size_t length = size_t(at[2]) << 8 | at[3];
    QCOMPARE(at[long(length) + 1] & 0x0F, 0);
    at[long(length) + 1] = 2;
    QVERIFY(!decoded(m_folder.filePath("f.dng"), bytes, false));
}

void OwnDngTest::theNeutralIsOfThisBody()
{
    const auto file = m_folder.filePath("f.dng");
    Layout plain;
    const auto before = decoded(file, fileOf(samplesOf(14), plain), false);
    QVERIFY(before && before->fileColor.matrices.size() == 1);
    // ColorMatrix1 is the identity: XYZ to camera is what stands before it
    Layout body;
    body.more = {tags::rationals(50727, {2, 1, 0.5}),                        // AnalogBalance
                 tags::srationals(50723, {1, 0.1, 0, 0, 1, 0, 0, 0, 1.25})}; // CameraCalibration1
    const auto frame = decoded(file, fileOf(samplesOf(14), body), false);
    QVERIFY(frame && frame->fileColor.matrices.size() == 1);
    const Matrix3 wanted{{{{2, 0.2, 0}, {0, 1, 0}, {0, 0, 0.625}}}};
    for (int i = 0; i < 9; ++i)
        QVERIFY(std::abs(frame->fileColor.matrices[0].cameraFromXyz(i / 3, i % 3) - wanted(i / 3, i % 3)) <
                1e-6);
    // a calibration with another signature than the profile's is not for it
    body.more.push_back(tags::ascii(50931, "of another profile"));
    const auto other = decoded(file, fileOf(samplesOf(14), body), false);
    QVERIFY(other && std::abs(other->fileColor.matrices[0].cameraFromXyz(2, 2) - 0.5) < 1e-6);
}

void OwnDngTest::aWhitePointIsANeutral()
{
    Layout layout;
    layout.neutral = tags::rationals(50729, {0.3127, 0.3290}); // AsShotWhiteXY, of D65
    const auto frame = decoded(m_folder.filePath("f.dng"), fileOf(samplesOf(14), layout), false);
    QVERIFY(frame && frame->fileColor.asShotNeutral);
    const auto n = *frame->fileColor.asShotNeutral; // by a matrix of ones: the light's own XYZ
    QVERIFY(std::abs(n[0] - 0.3127 / 0.3290) < 1e-4 && std::abs(n[2] - 0.3583 / 0.3290) < 1e-4);
}

void OwnDngTest::allOrientationsAreKept()
{
    for (int orientation = 1; orientation <= 8; ++orientation) {
        Layout layout;
        layout.more = {tags::shorts(274, {uint16_t(orientation)})};
        const auto bytes = fileOf(samplesOf(14), layout);
        const auto here = decoded(m_folder.filePath("f.dng"), bytes, false),
                   there = decoded(m_folder.filePath("f.dng"), bytes, true);
        QVERIFY(here && there);
        QCOMPARE(here->orientation, orientation);
        QCOMPARE(there->orientation, orientation); // by the raw library's own code
    }
}

/// Fifty layouts; wavechroma-bench-dng has a thousand.
void OwnDngTest::randomLayoutsAreReadAsTheSpecificationSays()
{
    QStringList wrong;
    for (uint64_t seed = 1; seed <= 50; ++seed) {
        const testing::RandomDng dng(seed);
        const auto fault = testing::judged(dng, m_folder.filePath("r.dng").toStdString());
        if (!fault.empty())
            wrong << QString("seed %1 (%2): %3").arg(seed).arg(dng.words.c_str(), fault.c_str());
    }
    QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join("\n")));
}

/// From any 16-bit value to any other, the greatest difference too.
void OwnDngTest::everyDifferenceComesBack()
{
    std::vector<uint16_t> samples;
    for (int i = 0; i < 4096; ++i)
        for (const int v : {0, i * 16 + 7, 32768, 65535 - i, i, 32767 + i})
            samples.push_back(uint16_t(v));
    const int width = 96, height = int(samples.size()) / width;
    const auto packed = losslessJpeg(samples, width, height, 16);
    const auto header = raw::losslessJpegHeaderOf(packed);
    QVERIFY(header && header->width * header->components == width && header->height == height);
    std::vector<uint16_t> back(samples.size());
    QVERIFY(raw::unpackLosslessJpeg(packed, back.data(), width, width, height));
    QVERIFY(back == samples);
    // the last bytes are needed, and a cut stream says so
    QVERIFY(!raw::unpackLosslessJpeg({packed.data(), packed.size() - 40}, back.data(), width, width, height));
    QVERIFY(!raw::unpackLosslessJpeg(packed, back.data(), width, width + 1, height));
}

/// Bytes changed or cut off anywhere: an error or a frame, nothing else (the sanitizers look on).
void OwnDngTest::otherFiltersAreDemosaicedByTheLibrary()
{
    // red, green and blue of a plain surface behind a filter of 6 × 6
    const std::vector<uint8_t> filter{1, 1, 0, 1, 1, 2, 1, 1, 2, 1, 1, 0, 2, 0, 1, 0, 2, 1,
                                      1, 1, 2, 1, 1, 0, 1, 1, 0, 1, 1, 2, 0, 2, 1, 2, 0, 1};
    constexpr int kWide = 600, kHigh = 540; // the library wants 512 at least
    const uint16_t codes[] = {5000, 9000, 3000};
    std::vector<uint16_t> samples;
    for (int y = 0; y < kHigh; ++y)
        for (int x = 0; x < kWide; ++x)
            samples.push_back(codes[filter[size_t(y % 6 * 6 + x % 6)]]);
    Layout layout{16, false, kWide, kHigh};
    layout.filter = filter;
    layout.width = kWide;
    layout.height = kHigh;
    const auto file = m_folder.filePath("six.dng");
    QVERIFY(writeWhole({{file.toStdString(), fileOf(samples, layout)}}));
    const auto frame = openFrame(file.toStdString());
    QVERIFY2(bool(frame), frame ? "" : frame.error().message.c_str());
    QVERIFY(frame->mosaic && frame->mosaic->periodX == 6);
    const auto picture = pictureByLibrary(*frame);
    QVERIFY2(bool(picture), picture ? "" : picture.error().message.c_str());
    QVERIFY(!picture->mosaic && picture->picture && picture->width == frame->width);
    for (int y = 8; y < frame->height - 8; ++y)
        for (int x = 8; x < frame->width - 8; ++x)
            for (size_t c = 0; c < 3; ++c) {
                const double value = double(picture->picture->value(size_t(y * frame->width + x), c));
                QVERIFY2(std::abs(value - codes[c] / 65535.0) < 0.001,
                         qPrintable(QString("%1 %2 %3: %4").arg(x).arg(y).arg(c).arg(value)));
            }
}

void OwnDngTest::brokenFilesEndInAnAnswer()
{
    sim::Random random(99);
    int refused = 0;
    const auto file = m_folder.filePath("f.dng");
    for (int i = 0; i < 240; ++i) {
        const Layout layouts[] = {{14, true}, {12, true, 64, 32, true}, {16, false}, {14, true, kWidth, 16}};
        auto bytes = fileOf(samplesOf(layouts[i % 4].bits), layouts[i % 4]);
        for (int k = 0; k < 1 + i % 7; ++k) {
            const bool inHead = random.unit() < 0.6; // tags and the streams' headers
            bytes[size_t(random.below(int(inHead ? 900 : bytes.size())))] = uint8_t(random.below(256));
        }
        if (i % 5 == 0)
            bytes.resize(size_t(random.below(int(bytes.size()))));
        const auto own = ownOf(bytes);
        uint64_t sum = 0;
        if (own && !own->isDamaged)
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x)
                    sum += own->samples[y * own->rowStride + x];
        refused += !own || own->isDamaged || !decoded(file, bytes, false);
        QVERIFY(sum < uint64_t(kWidth) * kHeight * 65536);
    }
    QVERIFY(refused > 60);
}

static const testing::Registered<OwnDngTest> registeredOwnDngTest("own_dng_test");
#include "own_dng_test.moc"
