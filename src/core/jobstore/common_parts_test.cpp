#include "core/jobstore/job_rows.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

/// One choice of parts for a job, from what its charts foretell of each crossing.
class CommonPartsTest : public QObject
{
    Q_OBJECT
private slots:
    void allChartsDecideTogether();
    void oneThatSupportsNothingFreerHasNoSay();
    void picturesDecideForThemselves();
    void aChangeOfAChartDecidesAnew();
    void muchBetterIsAFifth();
};

namespace {

struct Foretold
{
    double matrix = 2, roots = 2, field = 2;
};

/// A chart with these unseen errors; `isDoubtful`: its reading supports the matrix alone.
void add(JobState &state, const Foretold &unseen, bool isDoubtful = false, bool isRendered = false)
{
    JobFrame frame;
    frame.id = nextId(state);
    frame.part = FramePart::Chart;
    frame.camera.isRendered = isRendered;
    JobChange change;
    change.frames.push_back({std::nullopt, frame});
    RowId next = frame.id + 1;
    for (const auto &[colour, error] :
         {std::pair{"matrix", unseen.matrix}, {"roots", unseen.roots}, {"field", unseen.field}}) {
        JobCalibration row;
        row.id = next++;
        row.frame = frame.id;
        row.brief.parts = {colour, "as-shot"};
        row.brief.unseen = error;
        row.brief.isSound = !isDoubtful || std::string(colour) == "matrix";
        change.calibrations.push_back({std::nullopt, row});
    }
    apply(state, change);
}

const Parts kMatrix{"matrix", "as-shot"}, kField{"field", "as-shot"};

} // namespace

void CommonPartsTest::allChartsDecideTogether()
{
    JobState state;
    add(state, {2, 9, 1.5}); // alone it would have the field
    QCOMPARE(*state.common[0], kField);
    QVERIFY(!state.common[1]);
    for (int i = 0; i < 3; ++i)
        add(state, {2, 9, 2.2});
    QCOMPARE(*state.common[0], kMatrix);
    for (int i = 0; i < 12; ++i)
        add(state, {2, 9, 1.8});
    QCOMPARE(*state.common[0], kField);
}

void CommonPartsTest::oneThatSupportsNothingFreerHasNoSay()
{
    JobState state;
    add(state, {2, 9, 1.5});
    add(state, {2, 9, 9}, true);
    QCOMPARE(*state.common[0], kField);
    JobState doubtful;
    add(doubtful, {2, 9, 1}, true);
    QVERIFY(!doubtful.common[0]);
}

void CommonPartsTest::picturesDecideForThemselves()
{
    JobState state;
    add(state, {2, 9, 1.5});
    add(state, {2, 9, 3}, false, true);
    QCOMPARE(*state.common[0], kField);
    QCOMPARE(*state.common[1], kMatrix);
}

void CommonPartsTest::aChangeOfAChartDecidesAnew()
{
    JobState state;
    add(state, {2, 9, 1.5});
    add(state, {2, 9, 4});
    QCOMPARE(*state.common[0], kMatrix);
    const auto second = state.frames.back();
    JobChange aside;
    aside.frames.push_back({second, second});
    aside.frames.front().after->setAside = true;
    apply(state, aside);
    QCOMPARE(*state.common[0], kField);
    apply(state, reversed(aside));
    QCOMPARE(*state.common[0], kMatrix);
}

void CommonPartsTest::muchBetterIsAFifth()
{
    QVERIFY(!isMuchBetter(kField, 1.7, kMatrix, 2));
    QVERIFY(isMuchBetter(kField, 1.5, kMatrix, 2));
    QVERIFY(!isMuchBetter(kMatrix, 2, kField, 1.5));
}

static const wavechroma::testing::Registered<CommonPartsTest> registeredCommonPartsTest("common_parts_test");
#include "common_parts_test.moc"
