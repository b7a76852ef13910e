#include "core/color/de2000.h"
#include "core/color/difference.h"
#include "core/color/lab_difference.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

Q_DECLARE_METATYPE(wavechroma::Lab)

class De2000Test : public QObject
{
    Q_OBJECT
private slots:
    void agreesWithPublishedPairs_data();
    void agreesWithPublishedPairs();
    void olderFormulasAgreeWithHandCalculation();
    void differenceInWordsTermsIsSigned();
};

// Sharma, Wu, Dalal 2005, table 1: all 34 pairs.
void De2000Test::agreesWithPublishedPairs_data()
{
    QTest::addColumn<Lab>("sample");
    QTest::addColumn<Lab>("reference");
    QTest::addColumn<double>("expected");
    const struct
    {
        Lab a, b;
        double de;
    } pairs[] = {
        {{50.0000, 2.6772, -79.7751}, {50.0000, 0.0000, -82.7485}, 2.0425},
        {{50.0000, 3.1571, -77.2803}, {50.0000, 0.0000, -82.7485}, 2.8615},
        {{50.0000, 2.8361, -74.0200}, {50.0000, 0.0000, -82.7485}, 3.4412},
        {{50.0000, -1.3802, -84.2814}, {50.0000, 0.0000, -82.7485}, 1.0000},
        {{50.0000, -1.1848, -84.8006}, {50.0000, 0.0000, -82.7485}, 1.0000},
        {{50.0000, -0.9009, -85.5211}, {50.0000, 0.0000, -82.7485}, 1.0000},
        {{50.0000, 0.0000, 0.0000}, {50.0000, -1.0000, 2.0000}, 2.3669},
        {{50.0000, -1.0000, 2.0000}, {50.0000, 0.0000, 0.0000}, 2.3669},
        {{50.0000, 2.4900, -0.0010}, {50.0000, -2.4900, 0.0009}, 7.1792},
        {{50.0000, 2.4900, -0.0010}, {50.0000, -2.4900, 0.0010}, 7.1792},
        {{50.0000, 2.4900, -0.0010}, {50.0000, -2.4900, 0.0011}, 7.2195},
        {{50.0000, 2.4900, -0.0010}, {50.0000, -2.4900, 0.0012}, 7.2195},
        {{50.0000, -0.0010, 2.4900}, {50.0000, 0.0009, -2.4900}, 4.8045},
        {{50.0000, -0.0010, 2.4900}, {50.0000, 0.0010, -2.4900}, 4.8045},
        {{50.0000, -0.0010, 2.4900}, {50.0000, 0.0011, -2.4900}, 4.7461},
        {{50.0000, 2.5000, 0.0000}, {50.0000, 0.0000, -2.5000}, 4.3065},
        {{50.0000, 2.5000, 0.0000}, {73.0000, 25.0000, -18.0000}, 27.1492},
        {{50.0000, 2.5000, 0.0000}, {61.0000, -5.0000, 29.0000}, 22.8977},
        {{50.0000, 2.5000, 0.0000}, {56.0000, -27.0000, -3.0000}, 31.9030},
        {{50.0000, 2.5000, 0.0000}, {58.0000, 24.0000, 15.0000}, 19.4535},
        {{50.0000, 2.5000, 0.0000}, {50.0000, 3.1736, 0.5854}, 1.0000},
        {{50.0000, 2.5000, 0.0000}, {50.0000, 3.2972, 0.0000}, 1.0000},
        {{50.0000, 2.5000, 0.0000}, {50.0000, 1.8634, 0.5757}, 1.0000},
        {{50.0000, 2.5000, 0.0000}, {50.0000, 3.2592, 0.3350}, 1.0000},
        {{60.2574, -34.0099, 36.2677}, {60.4626, -34.1751, 39.4387}, 1.2644},
        {{63.0109, -31.0961, -5.8663}, {62.8187, -29.7946, -4.0864}, 1.2630},
        {{61.2901, 3.7196, -5.3901}, {61.4292, 2.2480, -4.9620}, 1.8731},
        {{35.0831, -44.1164, 3.7933}, {35.0232, -40.0716, 1.5901}, 1.8645},
        {{22.7233, 20.0904, -46.6940}, {23.0331, 14.9730, -42.5619}, 2.0373},
        {{36.4612, 47.8580, 18.3852}, {36.2715, 50.5065, 21.2231}, 1.4146},
        {{90.8027, -2.0831, 1.4410}, {91.1528, -1.6435, 0.0447}, 1.4441},
        {{90.9257, -0.5406, -0.9208}, {88.6381, -0.8985, -0.7239}, 1.5381},
        {{6.7747, -0.2908, -2.4247}, {5.8714, -0.0985, -2.2286}, 0.6377},
        {{2.0776, 0.0795, -1.1350}, {0.9033, -0.0636, -0.5514}, 0.9082},
    };
    static_assert(std::size(pairs) == 34);
    int number = 0;
    for (const auto &pair : pairs)
        QTest::addRow("pair %d", ++number) << pair.a << pair.b << pair.de;
}

void De2000Test::agreesWithPublishedPairs()
{
    QFETCH(Lab, sample);
    QFETCH(Lab, reference);
    QFETCH(double, expected);
    QVERIFY2(std::abs(de2000(sample, reference) - expected) < 5.1e-5, "printed to 4 decimals");
    QVERIFY(std::abs(de2000(reference, sample) - expected) < 5.1e-5);
    QVERIFY(de2000(sample, sample) < 1e-9);
}

void De2000Test::olderFormulasAgreeWithHandCalculation()
{
    // Reference C = 5, sample C = 10 on the same hue, ΔL = 2: ΔC = 5, ΔH = 0; SC = 1 + 0.045·5 = 1.225.
    const Lab reference{50, 3, 4}, sample{52, 6, 8};
    QVERIFY(std::abs(de76(sample, reference) - std::sqrt(29.0)) < 1e-12);
    QVERIFY(std::abs(de94(sample, reference) - std::hypot(2, 5 / 1.225)) < 1e-12);
    QVERIFY(std::abs(de94Textiles(sample, reference) - std::hypot(1, 5 / 1.24)) < 1e-12);
    const double all[] = {de2000(sample, reference), de94(sample, reference), de94Textiles(sample, reference),
                          de76(sample, reference)};
    for (size_t i = 0; i < kDifferenceMeasures.size(); ++i) { // each id means its formula
        const auto measure = differenceMeasureFrom(kDifferenceMeasures[i].id);
        QVERIFY(measure == kDifferenceMeasures[i].measure);
        QCOMPARE(difference(*measure, sample, reference), all[i]);
    }
    QVERIFY(!differenceMeasureFrom("de1931"));
}

void De2000Test::differenceInWordsTermsIsSigned()
{
    const auto turned = lchDifference({50, 0, 10}, {50, 10, 0}); // +90° of hue
    QVERIFY(std::abs(turned.dC) < 1e-12 && turned.dH > 0);
    QVERIFY(std::abs(turned.dH - std::sqrt(200.0)) < 1e-9);
    QVERIFY(lchDifference({50, 10, 0}, {50, 0, 10}).dH < 0);
}

static const testing::Registered<De2000Test> registeredDe2000Test("de2000_test");
#include "de2000_test.moc"
