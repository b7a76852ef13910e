#include "core/color/lab.h"
#include "core/formats/sample_calibration.h"
#include "core/proof/foretold.h"
#include "core/raw/overview.h"
#include "core/tasks/fit_task.h"
#include "core/tasks/probe_task.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

/// What the chart does not vouch for, over a frame.
class ProbeTaskTest : public QObject
{
    Q_OBJECT
private slots:
    void init();
    void whatIsDoubtedIsARegion();
    void withoutEvidenceNothingIsDoubted();

private:
    PictureServes m_serves;
    RawFrame m_frame;
    Overview m_level;
    double m_limit = 0; ///< between the expected errors of the two halves
};

namespace {

constexpr int kWidth = 40, kHeight = 24;
constexpr float kDark[] = {0.02F, 0.05F, 0.14F}, kGrey[] = {0.09F, 0.18F, 0.12F};

double foretoldOf(const Calibration &calibration, const float *rgb)
{
    return ForetoldError(calibration)
        .at(labFromXyz(xyzFromCamera(calibration, {double(rgb[0]), double(rgb[1]), double(rgb[2])})));
}

} // namespace

/// A blue half and a grey one, each with specks of the other.
void ProbeTaskTest::init()
{
    m_serves.calibration = *fitReading(testing::sampleReading(), {});
    m_level = {kWidth, kHeight, 8, std::vector<float>(kWidth * kHeight * 3), {}};
    for (int i = 0; i < kWidth * kHeight; ++i) {
        const bool isSpeck = i % 23 == 7, isLeft = i % kWidth < kWidth / 2;
        std::copy_n(isLeft != isSpeck ? kDark : kGrey, 3, m_level.rgb.begin() + 3 * i);
    }
    m_limit = std::sqrt(foretoldOf(m_serves.calibration, kDark) * foretoldOf(m_serves.calibration, kGrey));
}

void ProbeTaskTest::whatIsDoubtedIsARegion()
{
    const bool isLeftOver = foretoldOf(m_serves.calibration, kDark) > m_limit;
    const auto doubted = doubtedColours(m_frame, m_level, m_serves, m_limit);
    QCOMPARE(doubted.isOver.size(), size_t(kWidth * kHeight));
    for (int i = 0; i < kWidth * kHeight; ++i)
        QCOMPARE(doubted.isOver[size_t(i)] != 0, (i % kWidth < kWidth / 2) == isLeftOver);
    QCOMPARE(doubted.share, 0.5);
}

void ProbeTaskTest::withoutEvidenceNothingIsDoubted()
{
    for (auto &patch : m_serves.calibration.patches)
        patch.unseen.reset();
    QVERIFY(doubtedColours(m_frame, m_level, m_serves, m_limit).isOver.empty());
}

static const testing::Registered<ProbeTaskTest> registeredProbeTaskTest("probe_task_test");
#include "probe_task_test.moc"
