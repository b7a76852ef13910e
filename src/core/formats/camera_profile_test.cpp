#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/camera_profile.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/proof.h"
#include "support/profile_reader.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class CameraProfileTest : public QObject
{
    Q_OBJECT
private slots:
    void agreesWithProve_data();
    void agreesWithProve();
    void colorMatrixGivesTheLightsWhite();
    void readsBackEqual();
    void aStandardLightHasItsCode();
    void cutFilesAreRefused();
    void valuesThatAreNoneAreRefused();
};

namespace {

/// The matrices as the tests' own reader has them.
struct Bare
{
    Matrix3 color, forward;

    explicit Bare(const Bytes &file) : color(matrixIn(file, 50721)), forward(matrixIn(file, 50964)) {}

private:
    static Matrix3 matrixIn(const Bytes &file, int tag)
    {
        const auto numbers = testing::Tags(file).numbers.at(tag);
        Matrix3 out;
        for (int k = 0; k < 9; ++k)
            out(k / 3, k % 3) = numbers.at(size_t(k));
        return out;
    }
};

} // namespace

void CameraProfileTest::agreesWithProve_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    QTest::newRow("daylight") << "Tarn 2"
                              << "daylight";
    QTest::newRow("tungsten") << "Marram 8"
                              << "tungsten";
    QTest::newRow("poor sensor, tube") << "Osprey Mini"
                                       << "tube";
}

void CameraProfileTest::agreesWithProve()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    const auto reading = testing::sampleReading(camera.toStdString(), lamp.toStdString());
    const auto calibration = testing::sampleCalibration(camera.toStdString(), lamp.toStdString());
    const auto proof = *prove(calibration, reading, chartCatalogue().front());
    const Bare profile(fileOf(cameraProfileOf(calibration)));
    // DNG specification 1.4, chapter 6: raw values are balanced by the as-shot neutral, then ForwardMatrix
    // gives XYZ D50. "Agreement with prove is judged up to one common gain."
    const auto &m = calibration.multipliers;
    for (size_t i = 0; i < reading.patches.size(); ++i) {
        const auto &rgb = reading.patches[i].mean;
        auto xyz = profile.forward * Vector3{rgb.r * m[0], rgb.g, rgb.b * m[2]};
        for (auto &v : xyz)
            v *= calibration.exposureScale;
        QVERIFY2(de2000(labFromXyz(xyzOf(xyz)), proof.patches[i].lab) < 0.1, proof.patches[i].id.c_str());
    }
    const auto white = profile.forward * Vector3{1, 1, 1};
    QVERIFY(std::abs(white[0] - kD50White.x) < 1e-6 && std::abs(white[1] - 1) < 1e-6 &&
            std::abs(white[2] - kD50White.z) < 1e-6);
}

void CameraProfileTest::colorMatrixGivesTheLightsWhite()
{
    const auto calibration = testing::sampleCalibration();
    const Bare profile(fileOf(cameraProfileOf(calibration)));
    // A neutral under the light: ColorMatrix takes its XYZ to the camera neutral, whose inverse are the
    // multipliers.
    const auto neutral = profile.color * vectorOf(xyzFromChromaticity(calibration.light.xy));
    QVERIFY(std::abs(neutral[1] / neutral[0] / calibration.multipliers[0] - 1) < 1e-5);
    QVERIFY(std::abs(neutral[1] / neutral[2] / calibration.multipliers[2] - 1) < 1e-5);
}

void CameraProfileTest::readsBackEqual()
{
    const auto wanted = cameraProfileOf(testing::sampleCalibration(), {true, "Harbour Row"});
    const auto back = *cameraProfileFrom(fileOf(wanted), "test.dcp");
    QCOMPARE(back.name, wanted.name);
    QCOMPARE(back.cameraModel, std::string("Skerrow Tarn 2"));
    QCOMPARE(back.copyright, std::string("Harbour Row"));
    QCOMPARE(back.baselineExposureOffset, 0.0);
    QVERIFY(back.linearTone);
    QCOMPARE(back.lights[0].illuminantCode, 255);
    QVERIFY(back.lights[0].illuminant &&
            std::abs(back.lights[0].illuminant->x - wanted.lights[0].illuminant->x) < 1e-6 &&
            std::abs(back.lights[0].illuminant->y - wanted.lights[0].illuminant->y) < 1e-6);
}

void CameraProfileTest::aStandardLightHasItsCode()
{
    const auto c = *fitCalibration(testing::sampleReading(), chartCatalogue().front(),
                                   {plainParts(), *lightFromName("D65")});
    const auto profile = cameraProfileOf(c);
    QCOMPARE(profile.lights[0].illuminantCode, 21);
    QVERIFY(!profile.lights[0].illuminant);
}

void CameraProfileTest::cutFilesAreRefused()
{
    const auto whole = fileOf(cameraProfileOf(testing::sampleCalibration()));
    for (size_t size = 0; size < whole.size(); size += 7) {
        const Bytes cut(whole.begin(), whole.begin() + ptrdiff_t(size));
        const auto result = cameraProfileFrom(cut, "cut.dcp");
        QVERIFY(!result || size >= whole.size() - 20); // the last value may be one that is not read
    }
    auto wild = whole;
    wild[4] = 0xF0; // directory far outside
    wild[5] = 0xFF;
    wild[6] = 0xFF;
    QVERIFY(!cameraProfileFrom(wild, "wild.dcp"));
}

void CameraProfileTest::valuesThatAreNoneAreRefused()
{
    auto profile = cameraProfileOf(testing::sampleCalibration());
    profile.embedPolicy = int(3.3e9 - 4294967296.0); // leaves as 3 300 000 000
    const auto policy = cameraProfileFrom(fileOf(profile), "policy.dcp");
    QVERIFY(!policy);
    QVERIFY2(QByteArray::fromStdString(policy.error().message).contains("50941"),
             policy.error().message.c_str());
    auto halves = fileOf(cameraProfileOf(testing::sampleCalibration())); // a matrix entry over nothing
    const std::vector<uint8_t> tag{0x21, 0xC6, 10, 0, 9, 0, 0, 0};
    const auto entry = std::search(halves.begin(), halves.end(), tag.begin(), tag.end());
    QVERIFY(entry != halves.end());
    const size_t at = size_t(entry[8]) | size_t(entry[9]) << 8;
    std::fill_n(halves.begin() + ptrdiff_t(at) + 4, 4, uint8_t(0));
    QVERIFY(!cameraProfileFrom(halves, "matrix.dcp"));
}

static const testing::Registered<CameraProfileTest> registeredCameraProfileTest("camera_profile_test");
#include "camera_profile_test.moc"
