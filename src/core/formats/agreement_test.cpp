// Files as other programs read them: each reader here is written from the format's own specification and
// shares no code with the writers. "Each exported DNG profile, ICC profile and LUT … agrees with prove within
// 0.1 ΔE2000 mean, 0.5 maximum, 0.3 mean for a 33-point LUT."
#include "core/base/letters.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/fit/two_lights.h"
#include "core/formats/camera_profile.h"
#include "core/formats/cube_lut.h"
#include "core/formats/dng_embed.h"
#include "core/formats/documents.h"
#include "core/formats/icc_profile.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/proof.h"
#include "support/classic_chart.h"
#include "support/profile_reader.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>
#include <cstring>
#include <initializer_list>
#include <lcms2.h>
#include <sstream>

using namespace wavechroma;
using testing::ProfileReader, testing::Tags, testing::by, testing::kFromRomm;

class AgreementTest : public QObject
{
    Q_OBJECT
private slots:
    void cameraProfileDoesWhatProveSays_data();
    void cameraProfileDoesWhatProveSays();
    void iccProfileDoesWhatProveSays_data();
    void iccProfileDoesWhatProveSays();
    void cubeDoesWhatProveSays_data();
    void cubeDoesWhatProveSays();
    void twoLightsStandInOneProfile();
    void everyCrossingReadsBackEqual_data();
    void everyCrossingReadsBackEqual();
    void aBigEndianFrameTakesTheProfileToo();
    void brokenCubesAreRefused();
};

namespace {

/// "roots/greys"; of a colour alone tone is as shot.
Parts partsOf(const QString &name)
{
    const auto both = name.split('/');
    return {both[0].toStdString(), both.value(1, "as-shot").toStdString()};
}

Calibration fitted(const QString &model, const ColourLean &lean = {})
{
    FitOptions options;
    options.parts = partsOf(model);
    options.lean = lean;
    auto c =
        *fitCalibration(testing::sampleReading("Marram 8", "tungsten"), testing::classicChart(), options);
    c.name = model.toStdString();
    return c;
}

void addModels()
{
    QTest::addColumn<QString>("model");
    for (const auto &parts : crossings(false)) {
        const auto name = parts.colour + "/" + parts.tone;
        QTest::newRow(name.c_str()) << QString::fromStdString(name);
    }
}

struct Errors
{
    std::vector<double> errors;
    void add(const Lab &got, const Lab &wanted) { errors.push_back(de2000(got, wanted)); }
    bool within(double mean, double most) const
    {
        const auto s = summaryOf(errors);
        qInfo("%d colours, mean %.3f, max %.3f", int(errors.size()), s.mean, s.max);
        return errors.size() >= 12 && s.mean < mean && s.max < most;
    }
};

/// By the names that the rows of profileSettings() have too.
CameraCoding codingNamed(const QString &name)
{
    const QStringList names{"linear", "srgb", "oprgb", "log"};
    return CameraCoding(names.indexOf(name));
}

} // namespace

void AgreementTest::cameraProfileDoesWhatProveSays_data()
{
    addModels();
    QTest::newRow("lively") << "lively";
}

void AgreementTest::cameraProfileDoesWhatProveSays()
{
    QFETCH(QString, model);
    const auto c = model == "lively" ? fitted("field", {0, 3}) : fitted(model);
    const auto reading = testing::sampleReading("Marram 8", "tungsten");
    const auto proof = *prove(c, reading, testing::classicChart());
    const ProfileReader reader(fileOf(cameraProfileOf(c)));
    Errors agreement;
    // "raw values balanced by the as-shot neutral … judged up to one common gain": the neutral's largest
    // channel is 1
    const double least = std::min({c.multipliers[0], 1.0, c.multipliers[2]});
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        const auto rgb = vectorOf(reading.patches[i].mean);
        auto xyz = reader.xyz(
            {rgb[0] * c.multipliers[0] / least, rgb[1] / least, rgb[2] * c.multipliers[2] / least});
        for (auto &v : xyz)
            v *= least * c.exposureScale;
        agreement.add(labFromXyz(xyzOf(xyz)), proof.patches[i].lab);
    }
    QVERIFY(agreement.within(0.1, 0.5));
}

void AgreementTest::iccProfileDoesWhatProveSays_data()
{
    QTest::addColumn<QString>("model");
    QTest::addColumn<int>("version");
    QTest::addColumn<bool>("coded");
    for (const auto &parts : crossings(false))
        for (const int version : {2, 4}) {
            const auto name = parts.colour + "/" + parts.tone;
            QTest::addRow("%s v%d", name.c_str(), version)
                << QString::fromStdString(name) << version << (version == 2);
        }
}

void AgreementTest::iccProfileDoesWhatProveSays()
{
    QFETCH(QString, model);
    QFETCH(int, version);
    QFETCH(bool, coded);
    const auto c = fitted(model);
    const auto reading = testing::sampleReading("Marram 8", "tungsten");
    const auto proof = *prove(c, reading, testing::classicChart());
    const auto bytes = *iccProfileOf(c, {coded ? CameraCoding::Srgb : CameraCoding::Linear, version});
    QCOMPARE(int(bytes[8]), version); // ICC.1:2010 7.2.4: the header's major version
    cmsHPROFILE input = cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size())),
                lab = cmsCreateLab4Profile(nullptr);
    cmsHTRANSFORM transform =
        cmsCreateTransform(input, TYPE_RGB_DBL, lab, TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC,
                           cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE);
    QVERIFY(transform);
    Errors agreement;
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        const auto balanced = vectorOf(balancedFrom(c, reading.patches[i].mean));
        double in[3], out[3];
        for (size_t k = 0; k < 3; ++k) {
            const double v = std::min(1.0, std::max(0.0, balanced[k]));
            in[k] = !coded ? v : v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
        }
        cmsDoTransform(transform, in, out, 1);
        agreement.add({out[0], out[1], out[2]}, proof.patches[i].lab);
    }
    cmsDeleteTransform(transform);
    cmsCloseProfile(lab);
    cmsCloseProfile(input);
    QVERIFY(agreement.within(0.1, 0.5));
}

void AgreementTest::cubeDoesWhatProveSays_data()
{
    QTest::addColumn<QString>("model");
    QTest::addColumn<QString>("coding");
    QTest::addColumn<QString>("output");
    for (const auto &parts : crossings(false)) {
        const auto name = parts.colour + "/" + parts.tone;
        QTest::newRow(name.c_str()) << QString::fromStdString(name) << "srgb"
                                    << "";
    }
    for (const char *coding : {"linear", "oprgb", "log"})
        QTest::addRow("field, %s", coding) << "field" << coding << "";
    QTest::newRow("field, to log") << "field"
                                   << "srgb"
                                   << "log";
    QTest::newRow("field, to linear") << "field"
                                      << "srgb"
                                      << "linear";
}

void AgreementTest::cubeDoesWhatProveSays()
{
    QFETCH(QString, model);
    QFETCH(QString, coding);
    QFETCH(QString, output);
    const auto c = fitted(model);
    const auto reading = testing::sampleReading("Marram 8", "tungsten");
    const auto proof = *prove(c, reading, testing::classicChart());
    CubeOptions options{
        .input = codingNamed(coding), .space = *rgbSpaceFromId("romm"), .size = 33, .title = "test"};
    if (!output.isEmpty())
        options.output = codingNamed(output);
    // the test's own reader: lines of words
    struct Table
    {
        size_t side = 0;
        std::vector<Vector3> rows;
    };
    const auto read = [](const std::string &text) {
        Table table;
        std::istringstream in(text);
        for (std::string line; std::getline(in, line);) {
            std::istringstream words(line);
            std::string first;
            words >> first;
            if (first == "LUT_1D_SIZE" || first == "LUT_3D_SIZE")
                words >> table.side;
            else if (!first.empty() && (letters::isDigit(first[0]) || first[0] == '-')) {
                Vector3 v{std::stod(first), 0, 0};
                words >> v[1] >> v[2];
                table.rows.push_back(v);
            }
        }
        return table;
    };
    const auto [side, rows] = read(textOf(cubeOf(c, *inputCodesOf(c, options), options), "note"));
    const auto first = cubeBefore(options);
    const auto before = first ? read(textOf(*first, "note")) : Table();
    QCOMPARE(bool(first), coding == "linear"); // which takes two files
    QCOMPARE(side, size_t(33));
    QCOMPARE(rows.size(), side * side * side);
    Errors agreement;
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        Vector3 at = vectorOf(balancedFrom(c, reading.patches[i].mean)), out{};
        for (auto &v : at) {
            v = std::min(1.0, std::max(0.0, v));
            if (coding == "srgb")
                v = v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
            if (coding == "oprgb")
                v = std::pow(v, 256 / 563.0); // IEC 61966-2-5
            if (coding == "log")
                v = std::log2(1 + 255 * v) / 8;
            if (before.side) {
                const double x = v * double(before.side - 1);
                const auto k = std::min(size_t(x), before.side - 2);
                v = before.rows[k][0] + (x - double(k)) * (before.rows[k + 1][0] - before.rows[k][0]);
            }
            v *= double(side - 1);
        }
        for (size_t corner = 0; corner < 8; ++corner) {
            size_t index = 0, stride = 1;
            double w = 1;
            for (size_t k = 0; k < 3; ++k, stride *= side) {
                const auto low = std::min(size_t(at[k]), side - 2), here = low + (corner >> k & 1);
                w *= 1 - std::abs(at[k] - double(here));
                index += here * stride;
            }
            for (size_t k = 0; k < 3; ++k)
                out[k] += w * rows[index][k];
        }
        for (auto &v : out)
            if (output == "log")
                v = (std::exp2(8 * v) - 1) / 255;
            else if (output.isEmpty())
                v = v < 16 * std::pow(2.0, -9) * 1.0 ? v / 16 : std::pow(v, 1.8); // ISO 22028-2
        agreement.add(labFromXyz(xyzOf(by(kFromRomm, out))), proof.patches[i].lab);
    }
    QVERIFY(agreement.within(0.3, 1.2));
}

void AgreementTest::twoLightsStandInOneProfile()
{
    std::vector<Calibration> each;
    std::vector<Vector3> neutrals;
    for (const char *lamp : {"tungsten", "daylight"}) {
        const auto reading = testing::sampleReading("Tarn 2", lamp);
        each.push_back(*fitCalibration(reading, testing::classicChart()));
        neutrals.push_back(*neutralIn(reading, testing::classicChart()));
    }
    const auto both = *joinedLights(each, neutrals);
    const Tags tags(fileOf(cameraProfileOf(both)));
    for (size_t light = 0; light < 2; ++light) {
        // each light's ForwardMatrix is that light's own, and its ColorMatrix gives that light's neutral
        const auto white = vectorOf(xyzFromChromaticity(each[light].light.xy));
        const auto camera = tags.times(light ? 50722 : 50721, white);
        QVERIFY(std::abs(camera[1] / camera[0] / each[light].multipliers[0] - 1) < 1e-5);
        const auto grey = tags.times(light ? 50965 : 50964, {1, 1, 1});
        QVERIFY(std::abs(grey[0] - 0.9642) < 1e-5 && std::abs(grey[2] - 0.8249) < 1e-5);
        // and a reading under it is proved as by that light's own calibration
        const auto reading = testing::sampleReading("Tarn 2", light ? "daylight" : "tungsten");
        QVERIFY(std::abs(prove(both, reading, testing::classicChart())->summary.mean -
                         prove(each[light], reading, testing::classicChart())->summary.mean) < 0.02);
    }
    const auto back = *calibrationFrom(documentOf(both), "both.json");
    QCOMPARE(back.lights.size(), size_t(2));
    QVERIFY(std::abs(back.lights[1].exposureScale - both.lights[1].exposureScale) < 1e-12);
    QVERIFY(!joinedLights({each[0], each[0]}, {neutrals[0], neutrals[0]}));
}

void AgreementTest::everyCrossingReadsBackEqual_data()
{
    addModels();
}

void AgreementTest::everyCrossingReadsBackEqual()
{
    QFETCH(QString, model);
    const auto c = fitted(model, {-3, 1});
    const auto back = *calibrationFrom(documentOf(c), "model.json");
    QVERIFY(back == c);
}

void AgreementTest::aBigEndianFrameTakesTheProfileToo()
{
    // "MM", 42, a directory at 8 of ImageWidth, DNGVersion 1.4 and an old ColorMatrix1; then the next
    // directory's place, 200
    Bytes file{'M', 'M', 0, 42, 0, 0, 0, 8, 0, 3};
    const auto put = [&](std::initializer_list<int> values) {
        for (const int v : values)
            file.push_back(uint8_t(v));
    };
    put({0x01, 0x00, 0, 4, 0, 0, 0, 1, 0, 0, 0, 64});
    put({0xC6, 0x12, 0, 1, 0, 0, 0, 4, 1, 4, 0, 0});
    put({0xC6, 0x21, 0, 10, 0, 0, 0, 9, 0, 0, 0, 60});
    put({0, 0, 0, 200});
    file.resize(160, 7);
    const auto c = fitted("matrix");
    const auto profile = cameraProfileOf(c);
    const auto out = *withProfile(file, profile, {0.5, 1, 0.7}, "big.dng");
    QVERIFY(std::equal(file.begin() + 8, file.end(), out.begin() + 8)); // all that was there is still there
    const auto word = [&](size_t at, int n) {
        uint32_t v = 0;
        for (int i = 0; i < n; ++i)
            v = v << 8 | out.at(at + size_t(i));
        return v;
    };
    const size_t start = word(4, 4), count = word(start, 2);
    QCOMPARE(word(start + 2 + 12 * count, 4), 200U);
    std::map<uint32_t, size_t> places;
    for (size_t i = 0; i < count; ++i)
        QVERIFY(places.emplace(word(start + 2 + 12 * i, 2), start + 2 + 12 * i).second);
    QCOMPARE(word(places.at(256) + 8, 4), 64U);
    const auto rational = [&](uint32_t tag, size_t i) {
        const size_t at = word(places.at(tag) + 8, 4) + 8 * i;
        return double(int32_t(word(at, 4))) / int32_t(word(at + 4, 4));
    };
    for (size_t i = 0; i < 9; ++i)
        QVERIFY(std::abs(rational(50721, i) - profile.lights[0].colorMatrix(int(i) / 3, int(i) % 3)) < 1e-6);
    QVERIFY(std::abs(rational(50728, 0) - 0.5) < 1e-6 && std::abs(rational(50728, 2) - 0.7) < 1e-6);
    for (const size_t size : {4, 12, 30, 45})
        QVERIFY(
            !withProfile(Bytes(file.begin(), file.begin() + ptrdiff_t(size)), profile, {1, 1, 1}, "cut.dng"));
}

void AgreementTest::brokenCubesAreRefused()
{
    const auto c = fitted("matrix");
    const CubeOptions options{.space = srgb(), .size = 17};
    const auto whole = textOf(cubeOf(c, *inputCodesOf(c, options), options), "");
    QVERIFY(bool(cubeFrom(whole, "whole.cube")));
    QVERIFY(!cubeFrom(whole.substr(0, whole.size() / 2), "cut.cube"));
    QVERIFY(!cubeFrom("", "empty.cube"));
    QVERIFY(!cubeFrom("LUT_3D_SIZE 2000000000\n", "huge.cube"));
    auto wild = whole;
    wild.replace(wild.find("0.0"), 3, "a.b");
    QVERIFY(!cubeFrom(wild, "wild.cube"));
}

static const testing::Registered<AgreementTest> registeredAgreementTest("agreement_test");
#include "agreement_test.moc"
