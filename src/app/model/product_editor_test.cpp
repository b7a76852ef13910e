#include "app/model/product_editor.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/formats/whole_file.h"
#include "core/tasks/probe_task.h"
#include "support/demo_day.h"
#include "support/registry.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

/// What can be done with a product frame, without a widget: each step changes the job and is undone whole.
class ProductEditorTest : public QObject
{
    Q_OBJECT
private slots:
    void initTestCase();
    void init();
    void cleanup();
    void onlyAProductFrameIsThere();
    void aLevelHasItsEnds();
    void anotherChartServesUntilItIsTakenBack();
    void aProbeIsLaidWithinTheFrame();
    void namesOfProbesAreKeptApart();
    void aDragIsOneStep();
    void probesReadAsTheTaskDoes();
    void targetsComeAndGo();
    void targetsFromAFileAreHeldTo();
    void whatIsReadBecomesTheTarget();
    void aRunTakesAllAndProbesWaitForTheEye();
    void proposalsAreDropped();
    void acrossLightsItSaysWhatDiffers();
    void aTrendGoesOverTheDay();
    void doubtsAreAskedForAndLetGo();
    void nothingIsDoneWithoutAFrame();
    void aJobThatIsLookedAtStays();

private:
    RowId productNamed(const char *name) const
    {
        for (const auto &frame : m_day->state().frames)
            if (frame.path.find(name) != std::string::npos)
                return frame.id;
        return 0;
    }
    void openProduct(const char *name)
    {
        m_day->setCurrentFrame(productNamed(name));
        QTRY_VERIFY(m_frameEditor->picture() && m_frameEditor->picture()->id == productNamed(name));
    }
    const ProductFacts &facts() const { return *m_product->facts(); }
    size_t steps() const { return size_t(m_day->undoStack()->count()); }
    QTemporaryDir m_place;
    std::unique_ptr<TaskRunner> m_runner;
    std::unique_ptr<JobDocument> m_day;
    std::unique_ptr<FrameEditor> m_frameEditor;
    std::unique_ptr<ProductEditor> m_product;
    JobState m_atFirst;
};

void ProductEditorTest::initTestCase()
{
    testing::layDemoDay(m_place.filePath("demo").toStdString());
}

void ProductEditorTest::init()
{
    m_runner = std::make_unique<TaskRunner>();
    m_day = std::make_unique<JobDocument>();
    m_frameEditor = std::make_unique<FrameEditor>(m_day.get(), m_runner.get());
    m_product = std::make_unique<ProductEditor>(m_day.get(), m_runner.get(), m_frameEditor.get());
    QVERIFY(bool(m_day->open(m_place.filePath("demo"))));
    m_atFirst = m_day->state();
    openProduct("0416");
}

void ProductEditorTest::cleanup()
{
    while (m_day->undoStack()->canUndo())
        m_day->undoStack()->undo();
    QVERIFY(m_day->state() == m_atFirst); // every step came back whole
    m_product.reset();
    m_frameEditor.reset();
    m_day.reset();
    m_runner.reset();
}

void ProductEditorTest::onlyAProductFrameIsThere()
{
    QVERIFY(m_product->isHere() && m_product->canEdit());
    QCOMPARE(facts().serving.chart, productNamed("0414"));
    QCOMPARE(facts().chartAt.substr(11, 5), std::string("09:22"));
    QCOMPARE(facts().run.size(), size_t(3));
    QCOMPARE(facts().place, 0);
    QCOMPARE(m_product->neighbour(1), productNamed("0417"));
    QCOMPARE(m_product->neighbour(-1), RowId(0));
    QVERIFY(facts().unseen > 0.1 && facts().unseen < 5);
    openProduct("0414"); // a chart
    QVERIFY(!m_product->isHere() && !m_product->canEdit());
}

void ProductEditorTest::aLevelHasItsEnds()
{
    m_product->levelBy(2);
    QCOMPARE(facts().frame->levelThirds, 2);
    QVERIFY(std::abs(facts().serves.level - std::exp2(2 / 3.0)) < 1e-12);
    for (int i = 0; i < 20; ++i)
        m_product->levelBy(1);
    QCOMPARE(facts().frame->levelThirds, 12); // four stops
    const auto before = steps();
    m_product->levelBy(1);
    QCOMPARE(steps(), before); // nothing that would change nothing
    for (int i = 0; i < 40; ++i)
        m_product->levelBy(-1);
    QCOMPARE(facts().frame->levelThirds, -12);
}

void ProductEditorTest::anotherChartServesUntilItIsTakenBack()
{
    openProduct("0420");
    QVERIFY(facts().charts.size() >= 2);
    const auto other = *std::find_if(facts().charts.begin(), facts().charts.end(),
                                     [&](RowId chart) { return chart != facts().serving.chart; });
    const auto rule = facts().serving.chart;
    m_product->serveBy(other);
    QCOMPARE(facts().serving.chart, other);
    QCOMPARE(m_day->state().frame(facts().frame->id)->servedBy, other);
    m_product->serveBy(0);
    QCOMPARE(facts().serving.chart, rule);
}

void ProductEditorTest::aProbeIsLaidWithinTheFrame()
{
    const double w = facts().frame->width, h = facts().frame->height;
    m_product->lay({"far out", 5 * w, -3 * h, 20}, true);
    m_product->lay({"all over", w / 2, h / 2, 10 * w}, true);
    m_product->lay({"a speck", w / 2, h / 2, 0.01}, true);
    int seen = 0;
    for (const auto *row : m_day->state().probesOf(facts().frame->id)) {
        const auto &p = row->place;
        if (p.name != "far out" && p.name != "all over" && p.name != "a speck")
            continue;
        ++seen;
        QVERIFY2(p.x >= p.radius && p.y >= p.radius && p.x <= w - p.radius && p.y <= h - p.radius &&
                     p.radius >= 2 && p.radius <= 0.2 * std::min(w, h),
                 p.name.c_str());
    }
    QCOMPARE(seen, 3);
}

void ProductEditorTest::namesOfProbesAreKeptApart()
{
    QSignalSpy told(m_product.get(), &ProductEditor::problem);
    const auto free = m_product->freeName();
    m_product->lay({free, 100, 100, 10}, true);
    QVERIFY(m_product->freeName() != free);
    m_product->rename(free, "rowan"); // which the demo has
    QCOMPARE(told.count(), 1);
    QVERIFY(told[0][0].toString().contains("rowan"));
    const auto before = steps();
    m_product->rename(free, "");
    m_product->rename(free, free);
    m_product->rename("nobody", "somebody");
    QCOMPARE(steps(), before);
    m_product->rename(free, "hem");
    const auto rows = m_day->state().probesOf(facts().frame->id);
    const auto isHem = [](const JobProbe *row) { return row->place.name == "hem" && row->place.x == 100; };
    QVERIFY(std::any_of(rows.begin(), rows.end(), isHem));
    m_product->remove("hem");
    QCOMPARE(m_day->state().probesOf(facts().frame->id).size(), rows.size() - 1);
}

void ProductEditorTest::aDragIsOneStep()
{
    const auto before = steps();
    for (int x = 100; x < 140; x += 5)
        m_product->lay({"moved", double(x), 80, 9}, x == 135);
    QCOMPARE(steps(), before + 1);
    m_product->lay({"moved", 60, 80, 9}, true); // another drag
    QCOMPARE(steps(), before + 2);
    m_day->undoStack()->undo();
    for (const auto *row : m_day->state().probesOf(facts().frame->id))
        if (row->place.name == "moved")
            QCOMPARE(row->place.x, 135.0);
}

void ProductEditorTest::probesReadAsTheTaskDoes()
{
    m_product->lay({"here", 150, 90, 12}, true);
    const auto now = [&]() -> const Probe * {
        for (const auto &probe : facts().probes.probes)
            if (probe.place.name == "here")
                return &probe;
        return nullptr;
    };
    QTRY_VERIFY(now() && now()->lab);
    const auto read = probeFrame(*m_frameEditor->picture()->frame, facts().serves, {{"here", 150, 90, 12}},
                                 {}, facts().limit, true);
    QVERIFY(read.probes.size() == 1);
    QCOMPARE(now()->lab->l, read.probes[0].lab->l);
    QCOMPARE(now()->lab->a, read.probes[0].lab->a);
    QVERIFY(now()->foretold > 0);
    const double dark = now()->lab->l;
    m_product->levelBy(3); // what leaves is a stop brighter; targets are of the chart's level
    QTRY_VERIFY(now() && now()->lab && std::abs(now()->lab->l - dark) > 2);
}

void ProductEditorTest::targetsComeAndGo()
{
    const auto had = facts().targets.size();
    ProbeTarget target{"rowan", {40, 30, 20}};
    target.tolerance = 1.5;
    m_product->setTarget("rowan", target);
    const auto *set = targetNamed(facts().targets, "rowan");
    QVERIFY(set && set->lab == target.lab && set->tolerance == target.tolerance);
    m_product->setTarget("rowan", std::nullopt);
    QVERIFY(!targetNamed(facts().targets, "rowan"));
    m_product->setTarget("nobody's", ProbeTarget{"nobody's", {50, 0, 0}});
    m_day->undoStack()->undo();
    m_day->undoStack()->undo();
    m_day->undoStack()->undo();
    QCOMPARE(facts().targets.size(), had);
}

void ProductEditorTest::targetsFromAFileAreHeldTo()
{
    QSignalSpy told(m_product.get(), &ProductEditor::problem);
    const auto file = m_place.filePath("targets.csv");
    QVERIFY(bool(writeWhole(
        {{file.toStdString(), bytesOf("name,L,a,b,tolerance\nrowan,41,33,22,2\nmoss,45,-12,30,1\n")}})));
    m_product->loadTargets(file);
    const auto *moss = targetNamed(facts().targets, "moss");
    QVERIFY(moss && de2000(moss->lab, {45, -12, 30}) < 1e-6 && moss->tolerance == 1.0); // by way of XYZ
    QCOMPARE(steps(), size_t(1));                                                       // all of them
    QVERIFY(bool(writeWhole({{file.toStdString(), bytesOf("name,L,a,b\nrowan,nothing\n")}})));
    m_product->loadTargets(file);
    QCOMPARE(told.count(), 1);
    QVERIFY2(told[0][0].toString().contains("targets.csv"), qPrintable(told[0][0].toString()));
    m_product->loadTargets(m_place.filePath("nowhere.csv"));
    QCOMPARE(told.count(), 2);
    QCOMPARE(steps(), size_t(1));
}

void ProductEditorTest::whatIsReadBecomesTheTarget()
{
    QTRY_VERIFY(!facts().probes.probes.empty() && facts().probes.probes.front().lab);
    const auto probe = facts().probes.probes.front(); // a copy: facts are made anew
    ProbeTarget strict{probe.place.name, {1, 2, 3}};
    strict.tolerance = 0.7;
    m_product->setTarget(probe.place.name, strict);
    m_product->takeAsTarget(facts().probes.probes.front().place.name); // a name out of what goes
    const auto *target = targetNamed(facts().targets, probe.place.name);
    QVERIFY(target && target->lab == *probe.lab);
    QCOMPARE(*target->tolerance, 0.7); // stays
    const auto before = steps();
    m_product->takeAsTarget("nobody");
    QCOMPARE(steps(), before);
}

void ProductEditorTest::aRunTakesAllAndProbesWaitForTheEye()
{
    m_product->levelBy(-1);
    m_product->lay({"carried", 160, 100, 10}, true);
    const auto before = steps();
    QCOMPARE(m_product->framesToCarryTo(), (std::vector<RowId>{productNamed("0417"), productNamed("0418")}));
    m_product->carryOn();
    QCOMPARE(steps(), before + 1);
    for (const char *name : {"0417", "0418"}) {
        QCOMPARE(m_day->state().frame(productNamed(name))->levelThirds, -1);
        const auto rows = m_day->state().probesOf(productNamed(name));
        const auto waits = [](const JobProbe *row) {
            return row->place.name == "carried" && row->isProposed;
        };
        QCOMPARE(std::count_if(rows.begin(), rows.end(), waits), 1);
    }
    QCOMPARE(m_day->state().frame(productNamed("MB_0052"))->levelThirds, 0); // another body's
    openProduct("0417");
    QTRY_VERIFY(!facts().proposed.empty());
    m_product->confirm();
    for (const auto *row : m_day->state().probesOf(productNamed("0417")))
        QVERIFY(!row->isProposed);
    QVERIFY(facts().proposed.empty());
}

void ProductEditorTest::proposalsAreDropped()
{
    m_product->lay({"not there", 160, 100, 10}, true);
    m_product->carryOn();
    openProduct("0418");
    const auto before = m_day->state().probesOf(productNamed("0418")).size();
    m_product->dropProposed();
    QVERIFY(m_day->state().probesOf(productNamed("0418")).size() < before);
    for (const auto *row : m_day->state().probesOf(productNamed("0418")))
        QVERIFY(row->place.name != "not there");
}

void ProductEditorTest::acrossLightsItSaysWhatDiffers()
{
    QSignalSpy told(m_product.get(), &ProductEditor::problem);
    openProduct("0420");
    m_product->levelBy(1);
    m_product->carryToStation();
    QCOMPARE(told.count(), 0); // one chart serves both
    QCOMPARE(m_day->state().frame(productNamed("0421"))->levelThirds, 1);
    openProduct("0421");
    m_product->serveBy(productNamed("0422")); // after the light had moved
    openProduct("0420");
    m_product->levelBy(1);
    m_product->carryToStation();
    QCOMPARE(told.count(), 1);
    const auto said = told[0][0].toString();
    QVERIFY2(said.contains("1 frame from the chart of 11:44: ") && said.contains("warmer"), qPrintable(said));
    QCOMPARE(m_day->state().frame(productNamed("0421"))->levelThirds, 2); // told, and done
}

void ProductEditorTest::aTrendGoesOverTheDay()
{
    m_product->askTrend("rowan");
    QTRY_VERIFY_WITH_TIMEOUT(facts().trend.size() > 1, 60000);
    QCOMPARE(facts().trendOf, std::string("rowan"));
    for (size_t i = 1; i < facts().trend.size(); ++i)
        QVERIFY(facts().trend[i - 1].capturedAt <= facts().trend[i].capturedAt);
    const auto &read = facts().probes.probes;
    const auto rowan =
        std::find_if(read.begin(), read.end(), [](const Probe &p) { return p.place.name == "rowan"; });
    const auto own = std::find_if(facts().trend.begin(), facts().trend.end(),
                                  [&](const ProbeAtTime &p) { return p.frame == facts().frame->id; });
    QVERIFY(rowan != read.end() && own != facts().trend.end());
    QCOMPARE(own->probe.lab->l, rowan->lab->l); // to the digit what the bench says of it
    QCOMPARE(own->probe.lab->a, rowan->lab->a);
    m_product->askTrend("");
    QVERIFY(facts().trend.empty() && facts().trendOf.empty());
}

void ProductEditorTest::doubtsAreAskedForAndLetGo()
{
    QVERIFY(!m_product->isDoubtedShown() && facts().doubted.isOver.empty());
    m_product->setDoubted(true);
    QTRY_VERIFY(!facts().doubted.isOver.empty());
    m_product->setDoubted(false);
    QVERIFY(facts().doubted.isOver.empty());
}

void ProductEditorTest::nothingIsDoneWithoutAFrame()
{
    m_day->setCurrentFrame(productNamed("0414"));
    m_product->levelBy(1);
    m_product->serveBy(0);
    m_product->lay({"x", 10, 10, 5}, true);
    m_product->rename("x", "y");
    m_product->remove("rowan");
    m_product->confirm();
    m_product->dropProposed();
    m_product->carryOn();
    m_product->carryToStation();
    m_product->takeAsTarget("rowan");
    QVERIFY(m_product->others().empty() && m_product->framesToCarryTo().empty());
    QCOMPARE(steps(), size_t(0));
}

void ProductEditorTest::aJobThatIsLookedAtStays()
{
    TaskRunner runner;
    JobDocument second; // while the first one writes
    FrameEditor frames(&second, &runner);
    ProductEditor looking(&second, &runner, &frames);
    QVERIFY(bool(second.open(m_place.filePath("demo"))));
    QVERIFY(second.isReadOnly());
    second.setCurrentFrame(productNamed("0416"));
    QVERIFY(looking.isHere() && !looking.canEdit());
    looking.levelBy(1);
    looking.lay({"x", 10, 10, 5}, true);
    QVERIFY(second.state() == m_day->state());
}

static const wavechroma::testing::Registered<ProductEditorTest>
    registeredProductEditorTest("product_editor_test");
#include "product_editor_test.moc"
