#include "../tests/support/full_disk.h"
#include "core/base/file_uri.h"
#include "core/base/shown_text.h"
#include "core/formats/calibration_tables.h"
#include "core/formats/delivery_document.h"
#include "core/formats/documents.h"
#include "core/formats/json_fields.h"
#include "core/formats/names.h"
#include "core/formats/sample_calibration.h"
#include "core/sim/random.h"
#include "support/registry.h"

#include <QTemporaryDir>
#include <QTest>
#include <cmath>
#include <functional>
#include <memory>

using namespace wavechroma;

class DocumentsTest : public QObject
{
    Q_OBJECT
private slots:
    void eachReadsBackEqual();
    void unknownFieldsAreIgnoredAndNewerVersionsRefused();
    void wrongDocumentsAreToldByField_data();
    void wrongDocumentsAreToldByField();
    void scrambledDocumentsNeverCrash();
    void anUnreadChartHasNoCornersOrPatches();
    void pathsKeepTheirBytes();
    void receiptsCountWholeBytes();
    void patchesAreBoundedAndEachThereOnce();
    void cgatsGoesOutAndComesIn();
    void cgatsFaultsAreTold_data();
    void cgatsFaultsAreTold();
    void scrambledCgatsNeverCrashes();
    void spectraAreIntegrated();
    void filesAppearWholeOrNotAtAll();
    void namesAreComposed();
};

void DocumentsTest::eachReadsBackEqual()
{
    auto reading = testing::sampleReading();
    reading.checks.push_back({CheckId::Exposure, Severity::Warn, -1.5, 1, "stops", {"D1"}, "D1 is under."});
    reading.definition = chartCatalogue().front();
    QCOMPARE(*readingFrom(documentOf(reading), "r"), reading);
    QCOMPARE(*readingFrom(documentOf(std::vector<Reading>{reading}), "r"), reading);
    const auto calibration = testing::sampleCalibration();
    QCOMPARE(*calibrationFrom(documentOf(calibration), "c"), calibration);
    const auto proof = *prove(calibration, reading, chartCatalogue().front());
    QCOMPARE(*proofFrom(documentOf(proof), "p"), proof);
    const auto balance = *balanceFromPatches(reading, {"D2", "D3"});
    QCOMPARE(*balanceFrom(documentOf(balance), "b"), balance);
    QCOMPARE(*chartFrom(documentOf(chartCatalogue().front()), "chart"), chartCatalogue().front());
}

void DocumentsTest::unknownFieldsAreIgnoredAndNewerVersionsRefused()
{
    auto document = *json::parse(documentOf(testing::sampleCalibration()), "c");
    document["shiny"] = {1, 2, 3};
    QVERIFY(bool(calibrationFrom(document.dump(), "c")));
    document["schema"] = "wavechroma.calibration/2";
    const auto newer = calibrationFrom(document.dump(), "c.json");
    QVERIFY(!newer);
    QVERIFY2(newer.error().message.find("newer version") != std::string::npos, newer.error().message.c_str());
}

void DocumentsTest::wrongDocumentsAreToldByField_data()
{
    QTest::addColumn<QString>("path"); // JSON pointer of what is replaced
    QTest::addColumn<QString>("with");
    QTest::addColumn<QString>("words");
    QTest::newRow("kind") << "/schema"
                          << "\"wavechroma.reading/1\""
                          << "not a wavechroma.calibration";
    QTest::newRow("no schema") << "/schema"
                               << "null"
                               << "without a \"schema\"";
    QTest::newRow("matrix") << "/matrix"
                            << "[[1,2],[3,4]]"
                            << "\"matrix\"";
    QTest::newRow("singular") << "/matrix"
                              << "[[1,1,1],[1,1,1],[1,1,1]]"
                              << "cannot be inverted";
    QTest::newRow("multipliers") << "/multipliers"
                                 << "[1,0,1]"
                                 << "must be positive";
    QTest::newRow("text for number") << "/exposure_scale"
                                     << "\"two\""
                                     << "\"exposure_scale\" is not a number";
    QTest::newRow("parts") << "/parts/colour"
                           << "\"magic\""
                           << "magic";
    QTest::newRow("xy") << "/light/xy"
                        << "[0.9, 0.9]"
                        << "chromaticity";
    QTest::newRow("deep") << "/patches/3/rgb"
                          << "[0.1, 0.2]"
                          << "patches[3]";
}

void DocumentsTest::wrongDocumentsAreToldByField()
{
    QFETCH(QString, path);
    QFETCH(QString, with);
    QFETCH(QString, words);
    auto document = *json::parse(documentOf(testing::sampleCalibration()), "c");
    document[json::Json::json_pointer(path.toStdString())] = json::Json::parse(with.toStdString());
    const auto result = calibrationFrom(document.dump(), "bad.json");
    QVERIFY(!result);
    QCOMPARE(result.error().fault, Fault::Unusable);
    QVERIFY2(result.error().message.find("bad.json") == 0 &&
                 result.error().message.find(words.toStdString()) != std::string::npos,
             result.error().message.c_str());
}

void DocumentsTest::scrambledDocumentsNeverCrash()
{
    const std::string texts[] = {documentOf(testing::sampleReading()),
                                 documentOf(testing::sampleCalibration()),
                                 documentOf(chartCatalogue().front())};
    sim::Random random(77);
    int refused = 0;
    for (int i = 0; i < 600; ++i) {
        auto wild = texts[size_t(i % 3)];
        for (int k = random.below(5); k >= 0; --k) {
            const auto at = size_t(random.below(int(wild.size())));
            if (random.unit() < 0.3)
                wild.erase(at, size_t(random.below(40)));
            else
                wild[at] = char(random.below(96) + 32);
        }
        // one that is taken, with a digit changed, is whole: written and read again it is the same
        const auto isWhole = [&refused](const auto &read, const auto &again) {
            refused += !read;
            return !read || (again(documentOf(*read)) && *again(documentOf(*read)) == *read);
        };
        QVERIFY2(
            i % 3 == 0 ? isWhole(readingFrom(wild, "w"), [](const auto &t) { return readingFrom(t, "w"); })
            : i % 3 == 1
                ? isWhole(calibrationFrom(wild, "w"), [](const auto &t) { return calibrationFrom(t, "w"); })
                : isWhole(chartFrom(wild, "w"), [](const auto &t) { return chartFrom(t, "w"); }),
            wild.c_str());
    }
    QVERIFY(refused > 300);
}

void DocumentsTest::anUnreadChartHasNoCornersOrPatches()
{
    // "When `found` is false, `corners` and `patches` are empty arrays."
    Reading reading;
    reading.image = "a.dng";
    const auto document = *json::parse(documentOf(reading), "r");
    QVERIFY(document["corners"].empty() && document["corners"].is_array());
    QVERIFY(document["patches"].empty() && document["patches"].is_array());
    QVERIFY(!readingFrom("{\"schema\": ", "cut.json"));
    QVERIFY(!readingFrom(std::string(200000, '['), "deep.json"));
}

void DocumentsTest::pathsKeepTheirBytes()
{
    for (const char *plain : {"frames/HR_0414.dng", "/tmp/Märch 50%.dng", "", "a\nb", "file", "%41.dng"})
        QCOMPARE(writtenPath(plain), std::string(plain));
    QCOMPARE(writtenPath("frames/caf\xe9 1.dng"), std::string("file:frames/caf%E9%201.dng"));
    QCOMPARE(writtenPath("file:x"), std::string("file:file%3Ax"));
    QCOMPARE(pathWritten("file:/a%2"), std::string("/a%2")); // no byte: it stands for itself
    sim::Random random(31);
    for (int round = 0; round < 3000; ++round) {
        std::string path = round % 3 == 0 ? "file:" : "";
        for (int i = 0; i < 12; ++i)
            path += char(1 + int(random.unit() * 255));
        QCOMPARE(pathWritten(writtenPath(path)), path);
        Reading reading;
        reading.image = path;
        reading.flats = {path, "plain.dng"};
        const auto back = readingFrom(documentOf(reading), "");
        QVERIFY2(bool(back), back ? "" : back.error().message.c_str());
        QCOMPARE(back->image, path);
        QCOMPARE(back->flats, reading.flats);
    }
    Delivery delivery = ordinaryDelivery();
    delivery.without = {"caf\xe9.dng"};
    delivery.frames = delivery.without;
    DeliveryReceipt receipt;
    receipt.path = "out/caf\xe9.tif";
    receipt.source = "caf\xe9.dng";
    delivery.receipts = {receipt};
    const auto back = deliveryFrom(documentOf(delivery), "");
    QVERIFY(back && back->frames == delivery.frames && back->without == delivery.without);
    QCOMPARE(back->receipts[0].path, receipt.path);
    QCOMPARE(back->receipts[0].source, receipt.source);
}

void DocumentsTest::receiptsCountWholeBytes()
{
    Delivery delivery = ordinaryDelivery();
    DeliveryReceipt receipt;
    receipt.path = "out/HR_0414.jpg";
    receipt.sha256 = std::string(64, 'a');
    receipt.bytes = 4096;
    delivery.receipts = {receipt};
    const auto sound = documentOf(delivery);
    QCOMPARE(deliveryFrom(sound, "")->receipts[0].bytes, uint64_t(4096));
    for (const char *none : {"-1", "1e30", "0.5"}) {
        auto text = sound;
        text.replace(text.find("4096"), 4, none);
        const auto read = deliveryFrom(text, "delivery.json");
        QVERIFY2(!read && read.error().message.find("bytes") != std::string::npos, none);
    }
}

void DocumentsTest::patchesAreBoundedAndEachThereOnce()
{
    Reading reading;
    reading.found = true;
    reading.chart = "classic-24";
    for (const char *id : {"A1", "B1", "A1"}) {
        PatchReading patch;
        patch.id = id;
        reading.patches.push_back(patch);
    }
    const auto twice = readingFrom(documentOf(reading), "twice.json");
    QVERIFY(!twice);
    QVERIFY2(twice.error().message.find("twice.json: \"patches\" has two called A1") != std::string::npos,
             twice.error().message.c_str());
    reading.patches.resize(10'001);
    for (size_t i = 0; i < reading.patches.size(); ++i)
        reading.patches[i].id = "P" + std::to_string(i);
    const auto many = readingFrom(documentOf(reading), "many.json");
    QVERIFY(!many && many.error().message.find("10001") != std::string::npos);
    reading.patches.pop_back();
    QVERIFY(bool(readingFrom(documentOf(reading), "")));
}

void DocumentsTest::cgatsGoesOutAndComesIn()
{
    const auto calibration = testing::sampleCalibration();
    const auto text = *cgatsOf(calibration);
    auto grey = chartCatalogue().front();
    for (auto &patch : grey.patches)
        patch.reference = {0.2, 0.2, 0.2};
    const auto back = withCgatsReferences(grey, text, "out.txt");
    QVERIFY2(bool(back), back ? "" : back.error().message.c_str());
    for (size_t i = 0; i < back->patches.size(); ++i)
        QVERIFY(std::abs(back->patches[i].reference.y - chartCatalogue().front().patches[i].reference.y) <
                1e-6);
}

static QByteArray cgats(const QByteArray &fields, int count, const std::function<QByteArray(int)> &row)
{
    QByteArray text = "CGATS.17\n\nORIGINATOR \"test\"\nNUMBER_OF_FIELDS " +
                      QByteArray::number(fields.split(' ').size()) + "\nBEGIN_DATA_FORMAT\n" + fields +
                      "\nEND_DATA_FORMAT\nNUMBER_OF_SETS " + QByteArray::number(count) + "\nBEGIN_DATA\n";
    for (int i = 0; i < count; ++i)
        text += QByteArray::fromStdString(patchId(i / 6, i % 6)) + " " + row(i) + "\n";
    return text + "END_DATA\n";
}

void DocumentsTest::cgatsFaultsAreTold_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QString>("words");
    const auto grey = [](int) { return QByteArray("50 0 0"); };
    QTest::newRow("empty") << QByteArray() << "CGATS";
    QTest::newRow("no CGATS") << QByteArray("hello world\nBEGIN_DATA\n1 2") << "CGATS";
    QTest::newRow("too few") << cgats("SAMPLE_ID LAB_L LAB_A LAB_B", 20, grey) << "4 of 24 patches: D3, D4";
    QTest::newRow("no colours") << cgats("SAMPLE_ID CMYK_C CMYK_M CMYK_Y", 24, grey) << "neither LAB_L";
    QTest::newRow("no ids") << cgats("RGB_R LAB_L LAB_A LAB_B", 24, grey) << "SAMPLE_ID";
    QTest::newRow("absurd") << cgats("SAMPLE_ID LAB_L LAB_A LAB_B", 24, [](int i) {
        return i == 7 ? QByteArray("500 0 0") : QByteArray("50 0 0");
    }) << "sample B2";
    QTest::newRow("not a number") << cgats("SAMPLE_ID LAB_L LAB_A LAB_B", 24, [](int i) {
        return i == 0 ? QByteArray("\"x\" 0 0") : QByteArray("50 0 0");
    }) << "sample A1: LAB_L";
}

void DocumentsTest::cgatsFaultsAreTold()
{
    QFETCH(QByteArray, text);
    QFETCH(QString, words);
    const auto result = withCgatsReferences(chartCatalogue().front(), text.toStdString(), "ref.txt");
    QVERIFY(!result);
    QVERIFY2(result.error().message.find(words.toStdString()) != std::string::npos,
             result.error().message.c_str());
}

void DocumentsTest::scrambledCgatsNeverCrashes()
{
    const auto text = *cgatsOf(testing::sampleCalibration());
    sim::Random random(21);
    int refused = 0;
    for (int i = 0; i < 400; ++i) {
        auto wild = text;
        for (int k = random.below(12); k >= 0; --k)
            wild[size_t(random.below(int(wild.size())))] = char(random.below(127) + 1);
        if (random.unit() < 0.3)
            wild.resize(size_t(random.below(int(wild.size()))));
        refused += !withCgatsReferences(chartCatalogue().front(), wild, "wild.txt");
    }
    QVERIFY(refused > 100);
}

void DocumentsTest::spectraAreIntegrated()
{
    QByteArray fields = "SAMPLE_ID";
    for (int nm = 380; nm <= 730; nm += 10)
        fields += " SPECTRAL_NM" + QByteArray::number(nm);
    // a flat 42 % reflectance is neutral under any light: Y = 0.42, x and y those of D50
    const auto text = cgats(fields, 24, [](int) { return QByteArray("42 ").repeated(36).trimmed(); });
    const auto chart = withCgatsReferences(chartCatalogue().front(), text.toStdString(), "spectra.txt");
    QVERIFY2(bool(chart), chart ? "" : chart.error().message.c_str());
    const auto &c = chart->patches[5].reference;
    QVERIFY(std::abs(c.x - 0.42 * kD50White.x) < 1e-6 && std::abs(c.y - 0.42) < 1e-6 &&
            std::abs(c.z - 0.42 * kD50White.z) < 1e-6);
}

void DocumentsTest::filesAppearWholeOrNotAtAll()
{
    QTemporaryDir folder;
    const auto path = [&](const char *name) {
        return std::filesystem::path(folder.filePath(name).toStdString());
    };
    QVERIFY(bool(writeWhole({{path("old"), bytesOf("kept")}})));
    // a sink that fails after 4 096 bytes
    auto full = std::make_unique<wavechroma::testing::FullDisk>(4096);
    const auto failed = writeWhole({{path("old"), bytesOf("new")}, {path("big"), Bytes(100000)}});
    full.reset();
    QVERIFY(!failed);
    QVERIFY(failed.error().message.find("big") != std::string::npos);
    QCOMPARE(*readText(path("old")), std::string("kept"));
    QCOMPARE(QDir(folder.path()).entryList(QDir::Files), QStringList{"old"}); // no temporary is left
    QVERIFY(!writeWhole({{path("no/such/folder"), bytesOf("x")}}));
    QVERIFY(!writeWhole({{folder.path().toStdString(), bytesOf("x")}}));
}

void DocumentsTest::namesAreComposed()
{
    auto calibration = testing::sampleCalibration();
    QCOMPARE(composedName(calibration, "North table"),
             "Tarn 2, 60 mm f/2.8, North table, " + calibration.light.name + ", 2026-10-14, " +
                 calibration.parts.colour +
                 (calibration.parts.tone == "as-shot" ? "" : ", " + calibration.parts.tone));
    auto apart = calibration;
    apart.lean = {-2, 1};
    apart.parts = {"roots", "greys"};
    apart.asked.reference = "frames/HR_0510.reading.json";
    apart.camera.serial = "HR204";
    apart.camera.iso = 400;
    QCOMPARE(composedName(apart, "", {true, true}),
             "Tarn 2, no. HR204, 60 mm f/2.8, " + calibration.light.name +
                 ", ISO 400, 2026-10-14, roots, greys, reds -2, chroma 1, to HR_0510");
    QCOMPARE(fileNameOf("Tarn 2, 60 mm f/2.8"), std::string("Tarn_2_60_mm_f_2.8"));
    QCOMPARE(fileNameOf("../../etc"), std::string("calibration.._.._etc"));
    QCOMPARE(fileNameOf("–"), std::string("calibration"));
    QCOMPARE(fileNameOf("/ :"), std::string("calibration"));
    QCOMPARE(fileNameOf("Grün 商品 4"), std::string("Gruen_商品_4")); // other scripts stay
    QCOMPARE(fileNameOf("caf\xe9 \x1b"), std::string("cafxE9"));
    std::string longest; // is not cut within a character
    for (int i = 0; i < 50; ++i)
        longest += "商";
    QVERIFY(isUtf8(fileNameOf(longest)) && fileNameOf(longest).size() == 120);
    QCOMPARE(composedName(Calibration{}, ""), std::string("Calibration"));
}

static const testing::Registered<DocumentsTest> registeredDocumentsTest("documents_test");
#include "documents_test.moc"
