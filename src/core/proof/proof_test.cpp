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
    void limitsHoldInEveryMeasure();
    void readingsWithoutReferencesAreRefused();
    void greysAreSummedUp();
};

namespace {

Calibration unity()
{
    Calibration c;
    c.name = "unity";
    c.parts = plainParts();
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

/// A sheet may set limits in several measures; each has to hold.
void ProofTest::limitsHoldInEveryMeasure()
{
    const auto &chart = chartCatalogue().front();
    Reading reading;
    reading.found = true;
    Lab lab =
        labFromXyz(chart.patch("C4")->reference); // a strong yellow, where ΔE76 is large and ΔE00 is not
    lab.b += 6;
    reading.patches.push_back(seen("C4", lab));
    reading.patches.push_back(seen("D4", labFromXyz(chart.patch("D4")->reference)));
    const auto proof = *prove(unity(), reading, chart);
    ProofLimits limits;
    QVERIFY(passes(proof, limits));
    QCOMPARE(heldTo(limits, proof).size(), size_t(1));
    limits.de76 = {0, 5};
    const auto held = heldTo(limits, proof);
    QCOMPARE(held.size(), size_t(2));
    QVERIFY(held[0].measure == DifferenceMeasure::De2000 && held[0].hold());
    QCOMPARE(held[0].mean, proof.summary.mean);
    QCOMPARE(held[0].worst, proof.summary.max);
    QVERIFY(held[1].measure == DifferenceMeasure::De76 && held[1].meanHolds() && !held[1].patchHolds());
    QVERIFY(std::abs(held[1].worst - 6) < 1e-6 && std::abs(held[1].mean - 3) < 1e-6);
    QCOMPARE(held[1].patch, std::string("C4"));
    QVERIFY(!passes(proof, limits));
    limits.de76 = {3.1, 6.1};
    QVERIFY(passes(proof, limits));
    limits.patch = 0; // a limit like any other in ΔE2000
    QVERIFY(!passes(proof, limits));
}

void ProofTest::readingsWithoutReferencesAreRefused()
{
    Reading reading;
    QVERIFY(!prove(unity(), reading, chartCatalogue().front()));
    reading.found = true;
    reading.patches.push_back(seen("Z9", {50, 0, 0}));
    QVERIFY(!prove(unity(), reading, chartCatalogue().front()));
}

void ProofTest::greysAreSummedUp()
{
    const auto &chart = chartCatalogue().front();
    Reading reading;
    reading.found = true;
    for (const auto &id : chart.neutral) {
        auto lab = labFromXyz(chart.patch(id)->reference);
        lab.b -= 0.6;
        reading.patches.push_back(seen(id, lab));
    }
    const auto neutrals = neutralsOf(*prove(unity(), reading, chart), chart);
    QVERIFY(std::abs(neutrals.castA) < 1e-6 && std::abs(neutrals.castB + 0.6) < 1e-6);
}

static const testing::Registered<ProofTest> registeredProofTest("proof_test");
#include "proof_test.moc"
