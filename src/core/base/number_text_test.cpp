#include "core/base/csv_table.h"
#include "core/base/iso_time.h"
#include "core/base/number_text.h"
#include "core/base/shown_text.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

class NumberTextTest : public QObject
{
    Q_OBJECT
private slots:
    void timesAreSeconds();
    void zeroHasNoMinus();
    void aTableNamesTheLineThatIsWrong();
    void whatSteersATerminalIsShown();
};

void NumberTextTest::timesAreSeconds()
{
    QCOMPARE(*secondsOf("1970-01-02T00:00:01"), 86401.0);
    QCOMPARE(*secondsOf("2026-10-14T09:22:41") - *secondsOf("2026-10-14T09:20:08"), 153.0);
    QCOMPARE(*secondsOf("2026-03-01T00:00:00") - *secondsOf("2026-02-28T23:59:59.25"), 0.75);
    QCOMPARE(*secondsOf("2026-10-14T09:00:00+02:00"), *secondsOf("2026-10-14T07:00:00Z"));
    for (const char *bad : {"", "yesterday", "2026-10-14", "2026-13-01T00:00:00", "2026-02-30T00:00:00"})
        QVERIFY2(!secondsOf(bad), bad);
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

void NumberTextTest::whatSteersATerminalIsShown()
{
    QCOMPARE(shown("caf\xc3\xa9 \xe2\x98\x82\ttab\nnext"),
             std::string("caf\xc3\xa9 \xe2\x98\x82\ttab\nnext"));
    QCOMPARE(shown("a\x1b[31mb\x7f"), std::string("a\\x1b[31mb\\x7f"));
    QCOMPARE(shown("\xc2\x9b\xe2\x80\xae"), std::string("\\xc2\\x9b\\xe2\\x80\\xae")); // C1, right to left
    // RFC 3629: overlong, a surrogate, beyond the last, cut short
    for (const char *bad : {"\xc0\xaf", "\xed\xa0\x80", "\xf4\x90\x80\x80", "\xe2\x98"})
        QVERIFY2(!isOneLine(bad), bad);
    QVERIFY(isOneLine("60 mm f/2.8, 10\xc2\xb0") && !isOneLine("two\nlines"));
    QCOMPARE(oneLine("\x1b[2J two \r\n\tlines\xff\0"), std::string("[2J two  lines"));
}

static const testing::Registered<NumberTextTest> registeredNumberTextTest("number_text_test");
#include "number_text_test.moc"
