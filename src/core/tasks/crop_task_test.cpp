#include "core/render/upright_pixels.h"
#include "core/tasks/crop_task.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Crops as hands draw them, on frames of every orientation.
class CropTaskTest : public QObject
{
    Q_OBJECT
private slots:
    void aDrawnRectangleIsOfTheUprightPicture();
    void aLineLiesLevel();
    void aFlatThingIsSquared();
    void aSlantedThingHasItsOwnRatio();
    void aRatioKeepsTheMiddle();
    void textsComeBack();
};

static JobFrame frameOf(int orientation)
{
    JobFrame out;
    out.width = 1200;
    out.height = 800;
    out.orientation = orientation;
    return out;
}

void CropTaskTest::aDrawnRectangleIsOfTheUprightPicture()
{
    for (int orientation = 1; orientation <= 8; ++orientation) {
        auto frame = frameOf(orientation);
        const UprightPixels upright(frame.width, frame.height, orientation);
        const auto crop = cropBetween(frame, upright.toFrame({300, 500}), upright.toFrame({100, 150}));
        QVERIFY(crop && *crop == (PictureCrop{100, 150, 200, 350, 0}));
        // what was drawn beyond the picture is drawn in; corners are drawn where they were
        const auto large = cropBetween(frame, upright.toFrame({-50, -50}), upright.toFrame({5000, 400}));
        QVERIFY(large && large->x == 0 && large->y == 0 && large->width == upright.width &&
                large->height == 400);
        const auto corners = cornersOnFrame(frame, *crop);
        QVERIFY(std::hypot(corners[2].x - upright.toFrame({300, 500}).x,
                           corners[2].y - upright.toFrame({300, 500}).y) < 1e-9);
    }
    QVERIFY(!cropBetween(frameOf(1), {10, 10}, {10.2, 400}));
}

void CropTaskTest::aLineLiesLevel()
{
    auto frame = frameOf(1);
    const auto level = cropLevelled(frame, {200, 300}, {600, 300 + 400 * std::tan(0.05)});
    QVERIFY(level && std::abs(level->degrees + 0.05 * 180 / M_PI) < 1e-6);
    QVERIFY(isWithin(*level, 1200, 800) && level->width > 1000); // all of the frame, drawn in until it fits
    const auto upright =
        cropLevelled(frame, {400, 700}, {400 + 600 * std::tan(0.03), 100}); // an edge of a wall
    QVERIFY(upright && std::abs(upright->degrees + 0.03 * 180 / M_PI) < 1e-6);
    frame.crop = PictureCrop{300, 200, 400, 300, 0};
    const auto kept = cropLevelled(frame, {0, 0}, {100, -2});
    QVERIFY(kept && kept->width == 400 && kept->height == 300 && kept->degrees > 1.1);
    QVERIFY(!cropLevelled(frame, {5, 5}, {5, 5.5}));
}

void CropTaskTest::aFlatThingIsSquared()
{
    const double angle = 0.1, c = std::cos(angle), s = std::sin(angle);
    const auto at = [&](double x, double y) { return PixelPoint{600 + c * x - s * y, 400 + s * x + c * y}; };
    const auto crop = cropByCorners(frameOf(1), {at(-250, -150), at(250, -150), at(250, 150), at(-250, 150)});
    QVERIFY(crop && std::abs(crop->width - 500) <= 1 && std::abs(crop->height - 300) <= 1);
    const auto corners = cornersOf(*crop);
    QVERIFY(std::hypot(corners[0].x - at(-250, -150).x, corners[0].y - at(-250, -150).y) < 1e-9);
    // the other way round, or a corner inside the other three
    QVERIFY(!cropByCorners(frameOf(1), {at(250, -150), at(-250, -150), at(-250, 150), at(250, 150)}));
    QVERIFY(!cropByCorners(frameOf(1), {at(-250, -150), at(250, -150), at(-200, -100), at(-250, 150)}));
}

/// A sheet of 297 × 210 seen by lenses of 0.8 to 2 long sides, tilted about both axes, has its own ratio
/// back.
void CropTaskTest::aSlantedThingHasItsOwnRatio()
{
    for (const double length : {0.8, 1.2, 2.0})
        for (const double tiltX : {0.35, 0.6})
            for (const double tiltY : {-0.5, 0.3}) {
                Corners corners;
                for (size_t i = 0; i < 4; ++i) {
                    const double x = (i == 1 || i == 2 ? 0.5 : -0.5) * 297,
                                 y = (i >= 2 ? 0.5 : -0.5) * 210; // about x, then about y
                    const double y1 = y * std::cos(tiltX), z1 = y * std::sin(tiltX);
                    const double x2 = x * std::cos(tiltY) + z1 * std::sin(tiltY),
                                 z2 = z1 * std::cos(tiltY) - x * std::sin(tiltY) + 500 * length;
                    corners[i] = {600 + 1200 * length * x2 / z2, 400 + 1200 * length * y1 / z2};
                }
                auto frame = frameOf(1);
                const auto crop = cropByCorners(frame, corners);
                QVERIFY(crop && crop->squared);
                QVERIFY2(std::abs(crop->width / crop->height / (297.0 / 210) - 1) < 0.01,
                         qPrintable(QString::number(crop->width / crop->height)));
                frame.crop = crop; // the hand knows better
                const auto ratio = cropToRatio(frame, 1.5);
                QVERIFY(ratio.squared == crop->squared && std::abs(ratio.width / ratio.height - 1.5) < 0.01);
            }
}

void CropTaskTest::aRatioKeepsTheMiddle()
{
    auto frame = frameOf(1);
    QVERIFY(cropToRatio(frame, 1) == (PictureCrop{200, 0, 800, 800, 0}));
    frame.crop = PictureCrop{100, 100, 300, 400, 5};
    const auto wide = cropToRatio(frame, 1.5);
    QVERIFY(wide.width == 300 && wide.height == 200 && wide.x == 100 && wide.y == 200 && wide.degrees == 5);
    QVERIFY(fitsOn(frame, wide) && !fitsOn(frame, {0, 0, 1200, 800, 1}));
    QVERIFY(ratioFrom("4:5") == 0.8 && ratioFrom("3x2") == 1.5 && ratioFrom("1.25") == 1.25);
    QVERIFY(!ratioFrom("wide") && !ratioFrom("0:4") && !ratioFrom("4:"));
}

void CropTaskTest::textsComeBack()
{
    for (const auto &crop : {PictureCrop{1, 2, 300, 400, 0}, PictureCrop{0.5, 2.25, 300.125, 400, -3.1}})
        QVERIFY(cropFrom(cropText(crop)) == crop);
    QVERIFY(!cropFrom("") && !cropFrom("1,2,3") && !cropFrom("1,2,3,4,5,6") && !cropFrom("a,2,3,4"));
}

static const testing::Registered<CropTaskTest> registeredCropTaskTest("crop_task_test");
#include "crop_task_test.moc"
