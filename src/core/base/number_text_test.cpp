#include "core/base/csv_table.h"
#include "core/base/number_text.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

class NumberTextTest : public QObject
{
    Q_OBJECT
private slots:
    void stopsAreSaidInThirds_data();
    void stopsAreSaidInThirds();
    void zeroHasNoMinus();
    void aTableNamesTheLineThatIsWrong();
};

void NumberTextTest::stopsAreSaidInThirds_data()
{
    QTest::addColumn<double>("stops");
    QTest::addColumn<QString>("text");
    QTest::newRow("a third") << 0.30 << "1/3 stop";
    QTest::newRow("two thirds, downwards") << -0.7 << "2/3 stop";
    QTest::newRow("one") << 1.05 << "1 stop";
    QTest::newRow("one and a third") << 1.33 << "1 1/3 stops";
    QTest::newRow("none") << 0.1 << "0 stops";
}

void NumberTextTest::stopsAreSaidInThirds()
{
    QFETCH(double, stops);
    QFETCH(QString, text);
    QCOMPARE(QString::fromStdString(stopsText(stops)), text);
}

void NumberTextTest::zeroHasNoMinus()
{
    QCOMPARE(fixedText(-0.004, 2), std::string("0.00"));
    QCOMPARE(fixedText(-0.4, 1), std::string("−0.4"));
    QCOMPARE(kelvinText(5123), std::string("5 120 K"));
    QCOMPARE(exposureText(1 / 60.0), std::string("1/60 s"));
}

void NumberTextTest::aTableNamesTheLineThatIsWrong()
{
    const auto good = parseNumberTable("nm,value\n400,0.5\n\n# note\n410,0.6\n", "s.csv");
    QVERIFY(bool(good));
    QCOMPARE(good->rows.size(), size_t(2));
    const auto bad = parseNumberTable("nm,value\n400,0.5\n410,much\n", "s.csv");
    QVERIFY(!bad);
    QCOMPARE(bad.error().message, std::string("s.csv: line 3: \"much\" is not a number"));
    const auto ragged = parseNumberTable("400,0.5\n410\n", "s.csv");
    QVERIFY(!ragged);
    QVERIFY(ragged.error().message.find("line 2") != std::string::npos);
    QVERIFY(!parseNumberTable("", "empty.csv"));
}

static const testing::Registered<NumberTextTest> registered("number_text_test");
#include "number_text_test.moc"
