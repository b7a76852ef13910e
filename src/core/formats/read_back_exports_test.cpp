#include "core/formats/read_back_exports.h"

#include "core/formats/calibration_tables.h"
#include "core/formats/dng_embed.h"
#include "core/formats/sample_calibration.h"
#include "support/registry.h"

#include <QTest>
#include <array>

using namespace wavechroma;

class ReadBackExportsTest : public QObject
{
    Q_OBJECT
private slots:
    void tablesThatSayAnythingElseAreNotWritten();
    void aCopyWithAnythingElseIsNotWritten_data();
    void aCopyWithAnythingElseIsNotWritten();
};

/// With the last digit before a place changed, or of all.
static std::string withOtherDigit(std::string text, size_t before = std::string::npos)
{
    const auto at = text.find_last_of("123456789", before);
    text[at] = text[at] == '9' ? '8' : char(text[at] + 1);
    return text;
}

void ReadBackExportsTest::tablesThatSayAnythingElseAreNotWritten()
{
    const auto c = testing::sampleCalibration();
    const auto csv = csvOf(c), sectors = sectorCsvOf(c), cgats = *cgatsOf(c);
    QVERIFY(checkCsv(csv, c, "a") && checkSectors(sectors, c, "a") && checkCgats(cgats, c, "a"));
    QVERIFY(!checkCsv(withOtherDigit(csv), c, "a") && !checkSectors(withOtherDigit(sectors), c, "a"));
    const auto last = cgats.rfind('.', cgats.rfind("END_DATA")); // of the last number
    QVERIFY(!checkCgats(withOtherDigit(cgats, last + 4), c, "a"));
    auto other = c;
    other.patches[3].id = "Z9";
    QVERIFY(!checkCsv(csv, other, "a") && !checkCgats(cgats, other, "a"));
    other = c;
    other.patches.pop_back();
    QVERIFY(!checkCsv(csv, other, "a") && !checkCgats(cgats, other, "a"));
}

/// A DNG of one directory with a few tags, in one byte order.
static Bytes smallDng(bool isBigEndian)
{
    const auto order = isBigEndian ? ByteOrder{true} : ByteOrder{false};
    Bytes out = isBigEndian ? Bytes{'M', 'M'} : Bytes{'I', 'I'};
    order.put(out, 42, 2);
    order.put(out, 8, 4);
    const std::vector<std::array<uint32_t, 4>> entries{
        {256, 3, 1, 640}, {271, 2, 4, 0}, {50706, 1, 4, 0}, {50778, 3, 1, 17}};
    order.put(out, uint32_t(entries.size()), 2);
    for (const auto &[id, type, count, value] : entries) {
        order.put(out, id, 2);
        order.put(out, type, 2);
        order.put(out, count, 4);
        if (id == 50706)
            out.insert(out.end(), {1, 4, 0, 0});
        else if (id == 271)
            out.insert(out.end(), {'A', 'b', 'c', 0});
        else {
            order.put(out, value, 2);
            order.put(out, 0, 2);
        }
    }
    order.put(out, 0, 4);
    return out;
}

void ReadBackExportsTest::aCopyWithAnythingElseIsNotWritten_data()
{
    QTest::addColumn<bool>("isBigEndian");
    QTest::newRow("lowest byte first") << false;
    QTest::newRow("highest byte first") << true;
}

void ReadBackExportsTest::aCopyWithAnythingElseIsNotWritten()
{
    QFETCH(bool, isBigEndian);
    const auto original = smallDng(isBigEndian);
    const auto profile = cameraProfileOf(testing::sampleCalibration());
    const Vector3 neutral{0.5, 1, 0.7};
    const auto copy = *withProfile(original, profile, neutral, "small.dng");
    const auto sound = checkCopy(copy, original, profile, neutral, "small.dng");
    QVERIFY2(bool(sound), sound ? "" : sound.error().message.c_str());
    // each tag's data, each byte of its own: whatever is changed is seen
    const auto tags = *tags::readDirectory(copy, 42, "small.dng");
    int seen = 0, tried = 0;
    for (size_t at = original.size(); at < copy.size(); ++at) {
        auto broken = copy;
        broken[at] ^= 0x40;
        const bool isRead = bool(checkCopy(broken, original, profile, neutral, "small.dng"));
        ++tried;
        seen += !isRead;
    }
    // what may change unseen: padding, the version of DNG, and digits below the tags' rounding
    QVERIFY2(seen > 0.75 * tried, qPrintable(QString("%1 of %2").arg(seen).arg(tried)));
    auto other = profile;
    other.lights.front().forwardMatrix(1, 1) += 1e-4;
    QVERIFY(!checkCopy(copy, original, other, neutral, "small.dng"));
    QVERIFY(!checkCopy(copy, original, profile, {0.5, 1, 0.7001}, "small.dng"));
    auto moved = copy;
    moved[12] ^= 1; // of the original's own bytes
    QVERIFY(!checkCopy(moved, original, profile, neutral, "small.dng"));
}

static const testing::Registered<ReadBackExportsTest> registeredReadBackExportsTest("read_back_exports_test");
#include "read_back_exports_test.moc"
