#include "core/base/capture_clock.h"
#include "core/base/csv_table.h"
#include "core/base/iso_time.h"
#include "core/base/lazy.h"
#include "core/base/least_squares.h"
#include "core/base/mean_interval.h"
#include "core/base/progress.h"
#include "core/base/statistics.h"
#include "core/base/symmetric_eigen.h"
#include "core/base/trilinear.h"
#include "support/registry.h"

#include <Eigen/LU>
#include <QTest>
#include <algorithm>
#include <chrono>
#include <cmath>
#include <random>
#include <thread>

using namespace wavechroma;

/// The small things that all computation stands on, against a slow and plain way.
class NumbersTest : public QObject
{
    Q_OBJECT
private slots:
    void leastSquaresAreThoseOfTheNormalEquations();
    void leastSquaresComeBackExact();
    void columnsThatDependAreRefused();
    void eigenvectorsMakeTheMatrixAgain();
    void theMedianHasHalfBelow();
    void anIntervalHoldsTheMeanAsOftenAsItSays();
    void betweenNodesAProductOfLinesIsExact();
    void aLazyValueIsMadeOnce();
    void aLazyValueThatCannotBeSaysWhy();
    void momentsComeBeforeTexts();
    void aPartOfTheWorkGoesForward();
    void fieldsOfCsvComeBack();
    void formulasAreNone();
    void tablesOfNumbersAreRead();
    void tablesThatAreNoneAreToldByLine_data();
    void tablesThatAreNoneAreToldByLine();
    void timesAreSeconds_data();
    void timesAreSeconds();
};

namespace {

Eigen::MatrixXd randomMatrix(std::mt19937 &random, int rows, int columns)
{
    std::normal_distribution<double> normal;
    Eigen::MatrixXd out(rows, columns);
    for (int i = 0; i < rows; ++i)
        for (int j = 0; j < columns; ++j)
            out(i, j) = normal(random);
    return out;
}

} // namespace

void NumbersTest::leastSquaresAreThoseOfTheNormalEquations()
{
    std::mt19937 random(3);
    for (int round = 0; round < 20; ++round) {
        const auto a = randomMatrix(random, 24, 2 + round % 6), b = randomMatrix(random, 24, 3);
        const auto x = leastSquares(a, b);
        const Eigen::MatrixXd plain = (a.transpose() * a).inverse() * a.transpose() * b;
        QVERIFY((x - plain).norm() < 1e-9 * plain.norm());
        QVERIFY((a.transpose() * (a * x - b)).norm() <
                1e-9 * b.norm()); // what is left is at right angles to all
    }
}

void NumbersTest::leastSquaresComeBackExact()
{
    std::mt19937 random(4);
    auto a = randomMatrix(random, 24, 5);
    a.col(1) = a.col(0) + 1e-6 * a.col(1); // nearly the same, as patches in a row of greys are
    const auto truth = randomMatrix(random, 5, 3);
    const auto x = leastSquares(a, a * truth);
    QVERIFY((x - truth).norm() < 1e-8 * truth.norm()); // the normal equations keep some four digits of it
}

void NumbersTest::columnsThatDependAreRefused()
{
    std::mt19937 random(5);
    auto a = randomMatrix(random, 24, 4);
    const auto b = randomMatrix(random, 24, 1);
    const auto sound = soundLeastSquares(a, b, 1e-6);
    QVERIFY(sound && (*sound - leastSquares(a, b)).norm() < 1e-12);
    a.col(3) = 2 * a.col(0) - a.col(2);
    QVERIFY(!soundLeastSquares(a, b, 1e-6));
}

void NumbersTest::eigenvectorsMakeTheMatrixAgain()
{
    std::mt19937 random(6);
    for (int round = 0; round < 10; ++round) {
        const auto a = randomMatrix(random, 6, 6);
        const Eigen::MatrixXd s = a + a.transpose();
        const auto [values, vectors] = symmetricEigen(s);
        QVERIFY((vectors * values.asDiagonal() * vectors.transpose() - s).norm() < 1e-10 * s.norm());
        QVERIFY((vectors.transpose() * vectors - Eigen::MatrixXd::Identity(6, 6)).norm() < 1e-12);
        for (int i = 1; i < 6; ++i)
            QVERIFY(values[i - 1] <= values[i]);
    }
}

void NumbersTest::theMedianHasHalfBelow()
{
    QCOMPARE(medianOf({}), 0.0);
    QCOMPARE(medianOf({3}), 3.0);
    QCOMPARE(medianOf({4, 1}), 4.0); // the upper of two
    std::mt19937 random(7);
    for (int round = 0; round < 50; ++round) {
        std::vector<double> values;
        for (int i = 0; i <= round; ++i)
            values.push_back(double(random() % 20));
        const double median = medianOf(values);
        std::sort(values.begin(), values.end());
        QCOMPARE(median, values[values.size() / 2]);
    }
}

/// x, y and z each no further than in the first power: what lies between the nodes is known exactly.
/// Errors lean to one side, as an exponential distribution does; with what the measurement adds of its own.
void NumbersTest::anIntervalHoldsTheMeanAsOftenAsItSays()
{
    Draws draws(515);
    const auto error = [&](Draws &from) {
        return -std::log((double(from.below(1 << 20)) + 0.5) / (1 << 20));
    };
    int held = 0;
    constexpr int kSamples = 400;
    for (int i = 0; i < kSamples; ++i) {
        std::vector<double> sample(24);
        for (auto &value : sample)
            value = error(draws) + 0.2 * draws.normal();
        const auto interval = meanInterval(sample, [&](Draws &again) {
            auto out = sample;
            for (auto &value : out)
                value += 0.2 * again.normal();
            return out;
        });
        held += interval.holds(1);
    }
    QVERIFY2(held >= kSamples * 0.90 && held <= kSamples * 0.99, qPrintable(QString::number(held)));
    QVERIFY(meanInterval({}, {}) == Interval{} && meanInterval({3}, {}).holds(3));
}

void NumbersTest::betweenNodesAProductOfLinesIsExact()
{
    const auto truth = [](double x, double y, double z) {
        return std::array<double, 2>{3 + 2 * x - y + 0.5 * x * y * z, x * y - 4 * z * y};
    };
    const auto node = [&](size_t x, size_t y, size_t z) { return truth(double(x), double(y), double(z)); };
    std::mt19937 random(8);
    std::uniform_real_distribution<double> anywhere(0, 1);
    for (int round = 0; round < 200; ++round) {
        const double x = 4 * anywhere(random), y = 2 * anywhere(random), z = 6 * anywhere(random);
        const auto seen = trilinear<2, double>(between(x, 5), between(y, 3), between(z, 7), node);
        for (size_t i = 0; i < 2; ++i)
            QVERIFY(std::abs(seen[i] - truth(x, y, z)[i]) < 1e-12);
    }
    const auto beyond = between(9.5, 5), before = between(-2.0, 5), single = between(0.7, 1);
    QVERIFY(beyond.upper == 4 && beyond.share == 1); // held at the ends
    QVERIFY(before.lower == 0 && before.share == 0);
    QVERIFY(single.lower == 0 && single.upper == 0 && single.share == 0);
}

void NumbersTest::aLazyValueIsMadeOnce()
{
    std::atomic<int> made = 0;
    const auto lazy = Lazy<int>::later([&]() -> Result<int> {
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
        return ++made;
    });
    QCOMPARE(made.load(), 0); // nobody asked
    const auto copy = lazy;
    std::vector<std::thread> threads;
    std::atomic<int> right = 0;
    for (int i = 0; i < 6; ++i)
        threads.emplace_back([&, of = i % 2 ? lazy : copy] { right += *of == 1; });
    for (auto &thread : threads)
        thread.join();
    QCOMPARE(right.load(), 6);
    QCOMPARE(made.load(), 1);
    QVERIFY(lazy == copy && lazy == Lazy<int>(1) && !(lazy == Lazy<int>(2)) && !lazy.fault());
}

void NumbersTest::aLazyValueThatCannotBeSaysWhy()
{
    const auto lazy =
        Lazy<std::string>::later([]() -> Result<std::string> { return unusable("row 7: no reading"); });
    QVERIFY_THROWS_EXCEPTION(Unreadable, (void)lazy->size()); // never an empty one
    QVERIFY(lazy.fault() && lazy.fault()->message == "row 7: no reading");
}

/// Two bodies, one of which says where it is; a third that says nothing is where the others are.
void NumbersTest::momentsComeBeforeTexts()
{
    CaptureClock clock;
    for (const char *time : {"2026-10-14T13:30:00+04:00", "2026-10-14T09:20:00", "2026-10-14T13:10:00+04:00"})
        clock.add(time);
    QVERIFY(clock.isBefore("2026-10-14T09:20:00", "2026-10-14T13:10:00+04:00"));
    QVERIFY(clock.isBefore("2026-10-14T13:10:00+04:00", "2026-10-14T13:20:00"));
    QVERIFY(clock.isBefore("", "2026-10-14T09:20:00"));
    clock.add("2026-10-14T09:15:00Z"); // several places: a time without one counts as UTC
    QVERIFY(clock.isBefore("2026-10-14T09:15:00Z", "2026-10-14T09:20:00"));
    QVERIFY(clock.isBefore("2026-10-14T13:10:00+04:00", "2026-10-14T09:15:00Z")); // 09:10
}

void NumbersTest::aPartOfTheWorkGoesForward()
{
    std::vector<std::pair<double, std::string>> told;
    std::atomic<bool> cancelled = false;
    const Progress whole{
        [&](double fraction, const words::Phrase &step) { told.emplace_back(fraction, step.text); },
        &cancelled};
    whole.at(0.1, "first");
    const auto part = whole.part(0.2, 0.6);
    for (const double fraction : {0.0, 0.5, 1.0, 0.0, 0.25, 7.0, -1.0}) // which begins anew inside
        part.at(fraction, "second");
    const std::vector<double> expected{0.1, 0.2, 0.4, 0.6, 0.6, 0.6, 0.6, 0.6};
    QCOMPARE(told.size(), expected.size());
    for (size_t i = 0; i < told.size(); ++i)
        QVERIFY(std::abs(told[i].first - expected[i]) < 1e-12);
    const auto inner = part.part(0.5, 1);
    QVERIFY(!inner.stopped());
    cancelled = true;
    QVERIFY(part.stopped() && inner.stopped());
    Progress().part(0, 1).at(0.5, "nobody listens");
}

void NumbersTest::fieldsOfCsvComeBack()
{
    std::mt19937 random(9);
    const std::string letters = "ab ,;\"'x1";
    for (int round = 0; round < 500; ++round) {
        std::vector<std::string> fields;
        std::string line;
        for (int i = 0; i < 4; ++i) {
            std::string field;
            for (int k = int(random() % 6); k > 0; --k)
                field += letters[random() % letters.size()];
            fields.push_back(field);
            line += (i ? "," : "") + csvField(field);
        }
        QCOMPARE(splitCsvLine(line), fields);
    }
    QCOMPARE(splitCsvLine("a;\"b;c\";", ';'), (std::vector<std::string>{"a", "b;c", ""}));
    QCOMPARE(splitCsvLine(""), std::vector<std::string>{""});
}

void NumbersTest::formulasAreNone()
{
    for (const char *text : {"=1+1", "@here", "+cmd", "-x", "\tstep"})
        QVERIFY2(splitCsvLine(csvField(text))[0].front() == '\'', text);
    for (const char *number : {"-1.5", "+3", "-.5e-3", "12"})
        QCOMPARE(csvField(number), std::string(number));
}

void NumbersTest::tablesOfNumbersAreRead()
{
    const auto table = parseNumberTable("# made up\nnm, value\n\n380, 0.5\n385,-1e-3\n", "lamp.csv");
    QVERIFY2(bool(table), table ? "" : table.error().message.c_str());
    QCOMPARE(table->header.size(), size_t(2));
    QCOMPARE(table->rows, (std::vector<std::vector<double>>{{380, 0.5}, {385, -1e-3}}));
    const auto bare = parseNumberTable("1,2\n3,4", "bare.csv");
    QVERIFY(bare && bare->header.empty() && bare->rows.size() == 2);
}

void NumbersTest::tablesThatAreNoneAreToldByLine_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("said");
    QTest::newRow("a word for a number") << QByteArray("nm,value\n380,0.5\n385,much\n") << QByteArray("3");
    QTest::newRow("a column short") << QByteArray("nm,value\n380\n") << QByteArray("2");
    QTest::newRow("a column more") << QByteArray("nm,value\n380,1,2\n") << QByteArray("2");
    QTest::newRow("no number at all") << QByteArray("nm,value\n380,nan\n") << QByteArray("2");
}

void NumbersTest::tablesThatAreNoneAreToldByLine()
{
    QFETCH(QByteArray, text);
    QFETCH(QByteArray, said);
    const auto table = parseNumberTable(text.toStdString(), "broken.csv");
    QVERIFY(!table);
    const QByteArray message(table.error().message.c_str());
    QVERIFY2(message.startsWith("broken.csv") && message.contains(said), message);
}

void NumbersTest::timesAreSeconds_data()
{
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<double>("seconds"); // by `date -u +%s`; below 0: no time
    QTest::newRow("the epoch") << QByteArray("1970-01-01T00:00:00") << 0.0;
    QTest::newRow("a morning") << QByteArray("2026-10-14T09:20:08") << 1791969608.0;
    QTest::newRow("with Z") << QByteArray("2026-10-14T09:20:08Z") << 1791969608.0;
    QTest::newRow("east of Greenwich") << QByteArray("2026-10-14T11:20:08+02:00") << 1791969608.0;
    QTest::newRow("a leap day") << QByteArray("2024-02-29T23:59:59") << 1709251199.0;
    QTest::newRow("no time") << QByteArray("yesterday") << -1.0;
    QTest::newRow("nothing") << QByteArray("") << -1.0;
    QTest::newRow("a date alone") << QByteArray("2026-10-14") << -1.0;
}

void NumbersTest::timesAreSeconds()
{
    QFETCH(QByteArray, text);
    QFETCH(double, seconds);
    const auto read = secondsOf(text.toStdString());
    QCOMPARE(read.has_value(), seconds >= 0);
    if (read)
        QCOMPARE(*read, seconds);
}

static const wavechroma::testing::Registered<NumbersTest> registeredNumbersTest("numbers_test");
#include "numbers_test.moc"
