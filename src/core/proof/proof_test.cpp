#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/proof/proof.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

class ProofTest : public QObject
{
    Q_OBJECT
private slots:
    void aPerfectCameraHasNoError();
    void differencesAreResultMinusReference();
    void directionsInWords_data();
    void directionsInWords();
    void readingsWithoutReferencesAreRefused();
    void greysAreSummedUpInWords();
};

namespace {

Calibration unity()
{
    Calibration c;
    c.name = "unity";
    c.model = "matrix";
    c.matrix = diagonal({kD50White.x, kD50White.y, kD50White.z});
    return c;
}

/// Camera RGB that `unity` turns into this Lab.
PatchReading seen(const std::string &id, const Lab &lab)
{
    const auto xyz = xyzFromLab(lab);
    return {id, {xyz.x / kD50White.x, xyz.y, xyz.z / kD50White.z}, {}, 100, 0, 0};
}

} // namespace

void ProofTest::aPerfectCameraHasNoError()
{
    const auto &chart = chartCatalogue().front();
    Reading reading;
    reading.found = true;
    for (const auto &patch : chart.patches)
        reading.patches.push_back(seen(patch.id, labFromXyz(patch.reference)));
    const auto proof = *prove(unity(), reading, chart);
    QCOMPARE(proof.patches.size(), size_t(24));
    QVERIFY(proof.summary.max < 1e-6);
    QVERIFY(passes(proof));
}

void ProofTest::differencesAreResultMinusReference()
{
    const auto &chart = chartCatalogue().front();
    Reading reading;
    reading.found = true;
    Lab lab = labFromXyz(chart.patch("C3")->reference);
    lab.l += 4;
    reading.patches.push_back(seen("C3", lab));
    reading.patches.push_back(seen("D4", labFromXyz(chart.patch("D4")->reference)));
    const auto proof = *prove(unity(), reading, chart);
    QCOMPARE(proof.worst, std::string("C3"));
    QVERIFY(std::abs(proof.patches[0].dL - 4) < 1e-9);
    QVERIFY(std::abs(proof.patches[0].dC) < 1e-9 && std::abs(proof.patches[0].dH) < 1e-5);
    QVERIFY(std::abs(proof.patches[0].de00 - de2000(lab, proof.patches[0].reference)) < 1e-9);
}

void ProofTest::directionsInWords_data()
{
    QTest::addColumn<QList<double>>("reference");
    QTest::addColumn<QList<double>>("result");
    QTest::addColumn<QString>("words");
    const auto row = [](const char *name, QList<double> reference, QList<double> result, const char *words) {
        QTest::newRow(name) << reference << result << QString(words);
    };
    row("nothing", {50, 10, 10}, {50.2, 10.1, 10}, "no visible error");
    row("light only", {50, 0, 0}, {51, 0, 0}, "a little lighter");
    row("one degree for both", {50, 0, 0}, {51, 1, 0}, "a little lighter, redder");
    row("two degrees", {50, 0, 0}, {51, 6, 0}, "a little lighter, much redder");
    row("dark and blue", {50, 0, 0}, {47, 0, -2}, "darker, bluer");
    row("along its hue", {50, 40, 0}, {50, 37, 0}, "duller");
    row("across its hue", {50, 40, 0}, {50, 40, 3}, "yellower");
    row("green", {50, 0, 0}, {50, -2, 1}, "greener");
}

void ProofTest::directionsInWords()
{
    QFETCH(QList<double>, reference);
    QFETCH(QList<double>, result);
    QFETCH(QString, words);
    PatchProof p;
    p.reference = {reference[0], reference[1], reference[2]};
    p.lab = {result[0], result[1], result[2]};
    p.dL = p.lab.l - p.reference.l;
    p.dC = std::hypot(p.lab.a, p.lab.b) - std::hypot(p.reference.a, p.reference.b);
    p.dH = std::sqrt(std::max(0.0, std::pow(p.lab.a - p.reference.a, 2) +
                                       std::pow(p.lab.b - p.reference.b, 2) - p.dC * p.dC));
    QCOMPARE(QString::fromStdString(directionWords(p)), words);
}

void ProofTest::readingsWithoutReferencesAreRefused()
{
    Reading reading;
    QVERIFY(!prove(unity(), reading, chartCatalogue().front()));
    reading.found = true;
    reading.patches.push_back(seen("Z9", {50, 0, 0}));
    QVERIFY(!prove(unity(), reading, chartCatalogue().front()));
}

void ProofTest::greysAreSummedUpInWords()
{
    const auto &chart = chartCatalogue().front();
    Reading reading;
    reading.found = true;
    for (const auto &id : chart.neutral) {
        auto lab = labFromXyz(chart.patch(id)->reference);
        lab.b -= 0.6;
        reading.patches.push_back(seen(id, lab));
    }
    QCOMPARE(neutralsOf(*prove(unity(), reading, chart), chart).cast, std::string("a trace cool"));
}

static const testing::Registered<ProofTest> registered("proof_test");
#include "proof_test.moc"
