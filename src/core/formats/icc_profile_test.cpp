#include "core/color/de2000.h"
#include "core/color/rgb_space.h"
#include "core/formats/icc_profile.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/proof.h"
#include "support/registry.h"

#include <QTest>
#include <algorithm>
#include <lcms2.h>

using namespace wavechroma;

class IccProfileTest : public QObject
{
    Q_OBJECT
private slots:
    void agreesWithProveThroughLcms_data();
    void agreesWithProveThroughLcms();
    void saysWhatItIs();
    void brokenProfilesAreRefused();
};

void IccProfileTest::agreesWithProveThroughLcms_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    QTest::addColumn<bool>("coded");
    QTest::newRow("linear") << "Tarn 2"
                            << "daylight" << false;
    QTest::newRow("sRGB-coded") << "Tarn 2"
                                << "tungsten" << true;
    QTest::newRow("poor sensor") << "Osprey Mini"
                                 << "led" << false;
}

void IccProfileTest::agreesWithProveThroughLcms()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    QFETCH(bool, coded);
    const auto reading = testing::sampleReading(camera.toStdString(), lamp.toStdString());
    const auto calibration = testing::sampleCalibration(camera.toStdString(), lamp.toStdString());
    const auto proof = *prove(calibration, reading, chartCatalogue().front());
    const auto bytes = *iccProfileOf(calibration, {coded ? CameraCoding::Srgb : CameraCoding::Linear});
    cmsHPROFILE input = cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size()));
    QVERIFY(input);
    cmsHPROFILE lab = cmsCreateLab4Profile(nullptr);
    cmsHTRANSFORM transform =
        cmsCreateTransform(input, TYPE_RGB_DBL, lab, TYPE_Lab_DBL, INTENT_RELATIVE_COLORIMETRIC,
                           cmsFLAGS_NOOPTIMIZE | cmsFLAGS_NOCACHE);
    QVERIFY(transform);
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        // "camera RGB × multipliers × exposure_scale, clipped to 0…1, in the encoding asked for"
        const auto balanced = vectorOf(balancedFrom(calibration, reading.patches[i].mean));
        double rgb[3], out[3];
        for (size_t c = 0; c < 3; ++c) {
            const double v = std::clamp(balanced[c], 0.0, 1.0);
            rgb[c] = coded ? encoded(Transfer::Srgb, v) : v;
        }
        cmsDoTransform(transform, rgb, out, 1);
        QVERIFY2(de2000({out[0], out[1], out[2]}, proof.patches[i].lab) < 0.1, proof.patches[i].id.c_str());
    }
    cmsDeleteTransform(transform);
    cmsCloseProfile(lab);
    cmsCloseProfile(input);
}

void IccProfileTest::saysWhatItIs()
{
    const auto calibration = testing::sampleCalibration();
    const auto content = *iccContent(
        *iccProfileOf(calibration, {CameraCoding::Linear, 4, IccOptions::Kind::ByModel, "Harbour Row"}),
        "test.icc");
    QCOMPARE(content["class"].get<std::string>(), std::string("scnr"));
    QCOMPARE(content["copyright"].get<std::string>(), std::string("Harbour Row"));
    const auto description = content["description"].get<std::string>();
    QVERIFY2(description.find(calibration.name) == 0, description.c_str()); // with its umlaut and its quotes
    QVERIFY(description.find("linear") != std::string::npos);
    QVERIFY(content["version"].get<double>() > 4);
}

void IccProfileTest::brokenProfilesAreRefused()
{
    const auto whole = *iccProfileOf(testing::sampleCalibration());
    QVERIFY(!iccContent(Bytes(whole.begin(), whole.begin() + 100), "cut.icc"));
    auto wild = whole;
    std::fill(wild.begin() + 128, wild.begin() + 200, uint8_t(0xFF));
    const auto result = iccContent(wild, "wild.icc"); // no crash is what counts; lcms2 may or may not open it
    QVERIFY(!result || result->is_object());
}

static const testing::Registered<IccProfileTest> registeredIccProfileTest("icc_profile_test");
#include "icc_profile_test.moc"
