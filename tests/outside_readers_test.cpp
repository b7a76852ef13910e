// What programs that are not ours make of the files: .cube by OpenColorIO and by ffmpeg, ICC profiles by
// lcms2, DNG camera profiles by a reader written from the specification. Three cameras, one of them of no
// catalogue, under five lamps, every crossing of colour and tone. The table that docs/methods.md has is
// printed at the end.
#include "bench/unseen.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/rgb_space.h"
#include "core/fit/parts.h"
#include "core/formats/agreement.h"
#include "core/formats/camera_profile.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/proof.h"
#include "core/tasks/export_task.h"
#include "support/classic_chart.h"
#include "support/profile_reader.h"
#include "support/registry.h"

#include <OpenColorIO/OpenColorIO.h>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <lcms2.h>

using namespace wavechroma;
using testing::ProfileReader, testing::by, testing::kFromRomm;
namespace ocio = OCIO_NAMESPACE;

class OutsideReadersTest : public QObject
{
    Q_OBJECT
private slots:
    void filesDoWhatProveSays_data();
    void filesDoWhatProveSays();
    void everyCodingOfACube_data();
    void everyCodingOfACube();
    void toneCurvesOfProfilesAreSound();
    void cleanupTestCase();

private:
    void judge(const QString &kind, const Parts &parts, const std::vector<double> &errors, double mean,
               double worst);
    QString at(const char *name) const { return m_folder.filePath(name); }
    QTemporaryDir m_folder;
    std::map<QString, std::map<QString, std::vector<double>>> m_all; ///< by kind of file, then by parts
};

namespace {

/// A chart read, its calibration, and colours to judge a file by: the chart's patches with what prove says of
/// each, then others with what the calibration makes of them, since tables err between their nodes, where no
/// patch may lie: surfaces that it has not seen, and a lattice.
struct Case
{
    Reading reading;
    Calibration calibration;
    std::vector<CameraRgb> colours;
    std::vector<Lab> wanted;
};
constexpr size_t kPatches = 24;

/// As far as the files reach: profiles and tables work in ROMM RGB, which ends at 0.
void addColour(Case &to, const CameraRgb &rgb)
{
    const auto xyz = xyzFromCamera(to.calibration, rgb);
    const auto romm = rgbFromXyzD50(*rgbSpaceFromId("romm"), xyz);
    if (std::min({romm.r, romm.g, romm.b}) < 0 || std::max({romm.r, romm.g, romm.b}) > 1)
        return;
    to.colours.push_back(rgb);
    to.wanted.push_back(labFromXyz(xyz));
}

/// As bright as the chart's own greys.
void addSurfaces(Case &to, const sim::Camera &camera, const std::string &lamp)
{
    const auto &light = sim::lamp(lamp).spectrum;
    const auto responseTo = [&](const Spectrum &r) {
        return sim::response(camera, camera.lenses[0], light, r);
    };
    const auto white = responseTo(sim::flatReflectance(1));
    const auto *grey = to.reading.patch("D2");
    const double y = testing::classicChart().patch("D2")->reference.y;
    for (const auto &surface : bench::unseenColours(40)) {
        const auto rgb = responseTo(surface.reflectance);
        addColour(to, {grey->mean.r / y * rgb[0] / white[0], grey->mean.g / y * rgb[1] / white[1],
                       grey->mean.b / y * rgb[2] / white[2]});
    }
}

/// Of balanced RGB, as far from grey as strong colours are.
void addLattice(Case &to)
{
    constexpr double kLevels[] = {0.04, 0.11, 0.27, 0.46, 0.83}, kMostRatio = 4.5;
    const auto &m = to.calibration.multipliers;
    const double scale = to.calibration.exposureScale;
    for (const double r : kLevels)
        for (const double g : kLevels)
            for (const double b : kLevels)
                if (std::max({r, g, b}) / std::min({r, g, b}) < kMostRatio)
                    addColour(to, {r / m[0] / scale, g / m[1] / scale, b / m[2] / scale});
}

Case fitted(const sim::Camera &camera, const std::string &lamp, const Parts &parts,
            const ColourLean &lean = {})
{
    Case out;
    out.reading = testing::sampleReading(camera, lamp);
    FitOptions options;
    options.parts = parts;
    options.lean = lean;
    out.calibration = *fitCalibration(out.reading, testing::classicChart(), options);
    const auto proof = *prove(out.calibration, out.reading, testing::classicChart());
    for (size_t i = 0; i < kPatches; ++i) {
        out.colours.push_back(out.reading.patches[i].mean);
        out.wanted.push_back(proof.patches[i].lab);
    }
    addSurfaces(out, camera, lamp);
    addLattice(out);
    return out;
}

sim::Camera cameraNamed(const QString &name)
{
    return name == "unknown body" ? bench::randomCamera(7041) : sim::camera(name.toStdString());
}

Vector3 clippedIn(const Case &c, size_t patch)
{
    Vector3 rgb = vectorOf(balancedFrom(c.calibration, c.colours[patch]));
    for (auto &v : rgb)
        v = std::clamp(v, 0.0, 1.0);
    return rgb;
}

std::vector<double> errorsOfDcp(const Case &c, const QString &file)
{
    const auto bytes = *readWhole(file.toStdString(), 1 << 24);
    const ProfileReader reader(bytes);
    const auto &m = c.calibration.multipliers;
    const double least = std::min({m[0], 1.0, m[2]});
    std::vector<double> errors;
    for (size_t i = 0; i < c.colours.size(); ++i) {
        const auto rgb = vectorOf(c.colours[i]);
        auto xyz = reader.xyz({rgb[0] * m[0] / least, rgb[1] / least, rgb[2] * m[2] / least});
        for (auto &v : xyz) // "up to one common gain"
            v *= least * c.calibration.exposureScale;
        errors.push_back(de2000(labFromXyz(xyzOf(xyz)), c.wanted[i]));
    }
    return errors;
}

std::vector<double> errorsOfIcc(const Case &c, const QString &file)
{
    cmsHPROFILE input = cmsOpenProfileFromFile(file.toLocal8Bit().constData(), "r"),
                lab = cmsCreateLab4Profile(nullptr);
    cmsUInt8Number id[16], zero[16] = {};
    cmsGetHeaderProfileID(input, id);
    if (std::equal(id, id + 16, zero))
        return {};
    cmsHTRANSFORM transform = cmsCreateTransform(input, TYPE_RGB_DBL, lab, TYPE_Lab_DBL,
                                                 INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOOPTIMIZE);
    std::vector<double> errors;
    for (size_t i = 0; i < c.colours.size(); ++i) {
        const auto in = clippedIn(c, i); // linear by default
        double out[3];
        cmsDoTransform(transform, in.data(), out, 1);
        auto wanted = c.wanted[i]; // as far as the format's own Lab reaches: ICC.1:2010 6.3.4.2
        if (cmsGetPCS(input) == cmsSigLabData) {
            wanted.a = std::clamp(wanted.a, -128.0, 127.0);
            wanted.b = std::clamp(wanted.b, -128.0, 127.0);
        }
        errors.push_back(de2000({out[0], out[1], out[2]}, wanted));
    }
    cmsDeleteTransform(transform);
    cmsCloseProfile(lab);
    cmsCloseProfile(input);
    return errors;
}

// Transfer curves as their standards print them.
double srgbCode(double v)
{
    return v <= 0.0031308 ? 12.92 * v : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
}
double inputCode(const QString &coding, double v)
{
    return coding == "srgb"    ? srgbCode(v)
           : coding == "oprgb" ? std::pow(v, 256 / 563.0)
           : coding == "log"   ? std::log2(1 + 255 * v) / 8
                               : v;
}
double outputLight(const QString &coding, double v)
{
    return coding == "linear" ? v
           : coding == "log"  ? (std::exp2(8 * v) - 1) / 255
           : v < 16 / 512.0   ? v / 16
                              : std::pow(v, 1.8); // ROMM's own: ISO 22028-2
}

using Pixels = std::vector<std::array<float, 3>>;

Pixels pixelsOf(const Case &c, const QString &coding)
{
    Pixels out;
    for (size_t i = 0; i < c.colours.size(); ++i) {
        const auto rgb = clippedIn(c, i);
        out.push_back({float(inputCode(coding, rgb[0])), float(inputCode(coding, rgb[1])),
                       float(inputCode(coding, rgb[2]))});
    }
    return out;
}

std::vector<double> errorsOfPixels(const Case &c, const Pixels &pixels, const QString &output)
{
    std::vector<double> errors;
    for (size_t i = 0; i < pixels.size(); ++i) {
        Vector3 rgb{};
        for (size_t k = 0; k < 3; ++k)
            rgb[k] = outputLight(output, double(pixels[i][k]));
        errors.push_back(de2000(labFromXyz(xyzOf(by(kFromRomm, rgb))), c.wanted[i]));
    }
    return errors;
}

Pixels byOpenColorIO(Pixels pixels, const QStringList &cubes)
{
    ocio::ClearAllCaches(); // it knows files by their names, which are written anew here
    const auto config = ocio::Config::CreateRaw();
    for (const auto &cube : cubes) {
        const auto transform = ocio::FileTransform::Create();
        transform->setSrc(cube.toLocal8Bit().constData());
        const auto processor = config->getProcessor(transform)->getDefaultCPUProcessor();
        for (auto &pixel : pixels)
            processor->applyRGB(pixel.data());
    }
    return pixels;
}

Pixels byFfmpeg(const Pixels &pixels, const QStringList &cubes, const QTemporaryDir &folder)
{
    const QString in = folder.filePath("in.raw"), out = folder.filePath("out.raw");
    QByteArray planes; // green, blue, red
    for (const size_t k : {1, 2, 0})
        for (const auto &pixel : pixels)
            planes.append(reinterpret_cast<const char *>(&pixel[k]), sizeof(float));
    QFile file(in);
    if (!file.open(QFile::WriteOnly) || file.write(planes) != planes.size())
        return {};
    file.close();
    QStringList filters;
    for (const auto &cube : cubes)
        filters << (cube.contains("-before") ? "lut1d=file=" : "lut3d=interp=trilinear:file=") + cube;
    const QString size = QString("%1x1").arg(pixels.size());
    QProcess tool;
    tool.start("ffmpeg", {"-v", "error", "-y", "-f", "rawvideo", "-pix_fmt", "gbrpf32le", "-s", size, "-i",
                          in, "-vf", filters.join(','), "-f", "rawvideo", "-pix_fmt", "gbrpf32le", out});
    QFile result(out);
    if (!tool.waitForFinished() || tool.exitCode() != 0 || !result.open(QFile::ReadOnly))
        return {};
    const auto bytes = result.readAll();
    if (bytes.size() != planes.size())
        return {};
    Pixels got(pixels.size());
    const auto *values = reinterpret_cast<const float *>(bytes.constData());
    size_t plane = 0;
    for (const size_t k : {1, 2, 0}) {
        for (size_t i = 0; i < got.size(); ++i)
            got[i][k] = values[plane * got.size() + i];
        ++plane;
    }
    return got;
}

} // namespace

void OutsideReadersTest::judge(const QString &kind, const Parts &parts, const std::vector<double> &errors,
                               double mean, double worst)
{
    const auto name = QString::fromStdString(parts.colour + ", " + parts.tone);
    QVERIFY2(errors.size() > kPatches + 60, qPrintable(kind + " of " + name + " cannot be read"));
    const std::vector<double> patches(errors.begin(), errors.begin() + kPatches),
        between(errors.begin() + kPatches, errors.end());
    constexpr double kMeanBetween = 0.1, kWorstBetween = 2; // more, and at most, beside the strongest colours
    struct
    {
        QString where;
        const std::vector<double> &errors;
        double mean, worst;
    } const parted[] = {{"", patches, mean, worst},
                        {", between", between, mean + kMeanBetween, kWorstBetween}};
    for (const auto &part : parted) {
        auto &all = m_all[kind + part.where][name];
        all.insert(all.end(), part.errors.begin(), part.errors.end());
        const auto agreement = agreementOf(part.errors);
        QVERIFY2(agreement.mean <= part.mean && agreement.worst <= part.worst,
                 qPrintable(QString("%1%2 of %3: mean %4, worst %5")
                                .arg(kind, part.where, name)
                                .arg(agreement.mean)
                                .arg(agreement.worst)));
    }
}

void OutsideReadersTest::filesDoWhatProveSays_data()
{
    QTest::addColumn<QString>("camera");
    QTest::addColumn<QString>("lamp");
    QTest::addColumn<int>("first");
    // Every camera under every lamp; of the crossings each pair takes every third one, the next pairs the
    // others.
    const char *cameras[] = {"Tarn 2", "Marram 8", "unknown body"},
               *lamps[] = {"daylight", "tungsten", "strobe", "led", "tube"};
    for (size_t c = 0; c < std::size(cameras); ++c)
        for (size_t l = 0; l < std::size(lamps); ++l)
            QTest::addRow("%s, %s", cameras[c], lamps[l]) << cameras[c] << lamps[l] << int(c + l) % 3;
}

void OutsideReadersTest::filesDoWhatProveSays()
{
    QFETCH(QString, camera);
    QFETCH(QString, lamp);
    QFETCH(int, first);
    const auto all = crossings(false);
    for (size_t i = size_t(first); i < all.size(); i += 3) {
        const auto &parts = all[i];
        const auto c = fitted(cameraNamed(camera), lamp.toStdString(), parts);
        ExportRequest request;
        request.dcp = at("c.dcp").toStdString();
        request.icc = at("c.icc").toStdString();
        request.cube = at("c.cube").toStdString();
        request.settings.cubeSpace = RgbSpaceId::Romm;
        const auto done = exportCalibration(c.calibration, request);
        QVERIFY2(bool(done), done ? "" : done.error().message.c_str());
        judge("DNG profile", parts, errorsOfDcp(c, at("c.dcp")), 0.1, 0.5);
        judge("ICC profile", parts, errorsOfIcc(c, at("c.icc")), 0.1, 0.5);
        const auto in = pixelsOf(c, "srgb");
        judge(".cube, OpenColorIO", parts, errorsOfPixels(c, byOpenColorIO(in, {at("c.cube")}), ""), 0.3, 1);
        judge(".cube, ffmpeg", parts, errorsOfPixels(c, byFfmpeg(in, {at("c.cube")}, m_folder), ""), 0.3, 1);
    }
}

void OutsideReadersTest::everyCodingOfACube_data()
{
    QTest::addColumn<QString>("input");
    QTest::addColumn<QString>("output");
    QTest::addColumn<QString>("colour");
    for (const char *input : {"linear", "srgb", "oprgb", "log"})
        for (const char *output : {"", "linear", "log"})
            for (const char *colour : {"matrix", "field"})
                if (!*output ||
                    colour == std::string_view("field")) // an output's coding asks nothing of the colour
                    QTest::addRow("%s to %s, %s", input, *output ? output : "its own", colour)
                        << input << output << colour;
}

void OutsideReadersTest::everyCodingOfACube()
{
    QFETCH(QString, input);
    QFETCH(QString, output);
    QFETCH(QString, colour);
    const auto c = fitted(bench::randomCamera(7042), "led", {colour.toStdString(), "channels"}, {0, 3});
    ExportRequest request;
    request.cube = at("coded.cube").toStdString();
    const auto set = [&](const std::string &key, const QString &value) {
        for (const auto &row : profileSettings())
            if (row.key == key)
                return row.put(row, request.settings, value.toStdString());
        return false;
    };
    QVERIFY(set("cube_encoding", input) && set("output_encoding", output.isEmpty() ? "own" : output));
    request.settings.cubeSpace = RgbSpaceId::Romm;
    QFile::remove(at("coded-before.cube"));
    const auto done = exportCalibration(c.calibration, request);
    QVERIFY2(bool(done), done ? "" : done.error().message.c_str());
    QCOMPARE(bool(exportCalibration(c.calibration, request)),
             input != "linear"); // the table before it is kept
    QCOMPARE(done->size(), size_t(input == "linear" ? 2 : 1));
    QStringList cubes{at("coded.cube")};
    if (input == "linear")
        cubes.prepend(at("coded-before.cube"));
    const auto in = pixelsOf(c, input);
    const Parts parts{colour.toStdString() + ", " + input.toStdString() + " to " + output.toStdString(),
                      "channels"};
    judge(".cube, OpenColorIO", parts, errorsOfPixels(c, byOpenColorIO(in, cubes), output), 0.3, 1);
    judge(".cube, ffmpeg", parts, errorsOfPixels(c, byFfmpeg(in, cubes, m_folder), output), 0.3, 1);
}

void OutsideReadersTest::toneCurvesOfProfilesAreSound()
{
    for (const char *tone : {"greys", "channels"})
        for (const char *lamp : {"tungsten", "strobe"}) {
            const auto c = fitted(sim::camera("Marram 8"), lamp, {"matrix", tone});
            const auto curve = cameraProfileOf(c.calibration).tone;
            QVERIFY(curve.size() > 8);
            QCOMPARE(curve.front(), (std::pair<double, double>(0, 0)));
            QCOMPARE(curve.back(), (std::pair<double, double>(1, 1)));
            for (size_t i = 1; i < curve.size(); ++i)
                QVERIFY(curve[i].first > curve[i - 1].first && curve[i].second > curve[i - 1].second);
        }
}

void OutsideReadersTest::cleanupTestCase()
{
    for (const auto &[kind, byParts] : m_all)
        for (const auto &[parts, errors] : byParts) {
            const auto a = agreementOf(errors);
            qInfo("| %s | %s | %.3f | %.2f |", qPrintable(kind), qPrintable(parts), a.mean, a.worst);
        }
}

static const testing::Registered<OutsideReadersTest> registeredOutsideReadersTest("outside_readers_test");
#include "outside_readers_test.moc"
