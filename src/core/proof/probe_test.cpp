#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/proof/foretold.h"
#include "core/proof/probe.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;

/// Colours measured at places of a frame, and how far a calibration's evidence lets one trust them.
class ProbeTest : public QObject
{
    Q_OBJECT
private slots:
    void theColourIsTheModels();
    void scatterFollowsTheChannels();
    void targetsAreMetOrNot();
    void namesMatchInAnyCase();
    void aForetoldErrorIsThatOfTheNeighbours();
    void someColoursErrMoreThanTheirPatches();
    void farFromEveryPatchMoreIsExpected();
    void withoutEvidenceNothingIsForetold();
};

namespace {

ModelBlend plainModel()
{
    ColorModel model;
    model.multipliers = {2, 1, 1.5};
    model.matrix = diagonal(vectorOf(kD50White));
    return {{{1.0, model}}};
}

/// Patches at these colours, with the errors that leaving each out had left.
Calibration withEvidence(const std::vector<std::pair<Lab, double>> &patches)
{
    Calibration out;
    for (const auto &[lab, unseen] : patches) {
        FittedPatch patch;
        patch.reference = xyzFromLab(lab);
        if (unseen >= 0) { // so far off in lightness, where an L* of 50 and ΔE2000 go along
            const Lab off{lab.l + unseen, lab.a, lab.b};
            patch.unseen = xyzFromLab(off);
        }
        out.patches.push_back(patch);
    }
    return out;
}

} // namespace

void ProbeTest::theColourIsTheModels()
{
    Probe probe;
    colourOf(probe, {0.1, 0.2, 0.4 / 3}, {}, plainModel(), 1);
    QVERIFY(probe.lab);
    const Lab grey = labFromXyz({0.2 * kD50White.x, 0.2, 0.2 * kD50White.z});
    QVERIFY(de2000(*probe.lab, grey) < 1e-9);
    colourOf(probe, {0.1, 0.2, 0.4 / 3}, {}, plainModel(), 2); // twice the light
    QVERIFY(de2000(*probe.lab, labFromXyz({0.4 * kD50White.x, 0.4, 0.4 * kD50White.z})) < 1e-9);
}

void ProbeTest::scatterFollowsTheChannels()
{
    Probe still, noisy;
    colourOf(still, {0.1, 0.2, 0.4 / 3}, {0, 0, 0}, plainModel(), 1);
    QCOMPARE(still.sd, (Lab{0, 0, 0}));
    colourOf(noisy, {0.1, 0.2, 0.4 / 3}, {0, 0.01, 0}, plainModel(), 1);
    // only green moves: Y, so L* and a* and b*; L* by its derivative 116/3 · Y^(−2/3) · dY
    QVERIFY(std::abs(noisy.sd.l - 116.0 / 3 * std::pow(0.2, -2.0 / 3) * 0.01) < 0.05);
    QVERIFY(noisy.sd.a > noisy.sd.l && noisy.sd.b > 0);
}

void ProbeTest::targetsAreMetOrNot()
{
    Probe probe;
    colourOf(probe, {0.1, 0.2, 0.4 / 3}, {}, plainModel(), 1);
    const Lab seen = *probe.lab;
    compareWith(probe, {"slate", {seen.l - 1, seen.a, seen.b}}, 2);
    QVERIFY(probe.within && *probe.within);
    QVERIFY(std::abs(probe.dL - 1) < 1e-9);
    QCOMPARE(probe.de00, de2000(seen, {seen.l - 1, seen.a, seen.b}));
    compareWith(probe, {"slate", {seen.l - 1, seen.a, seen.b}, 0.5}, 2); // its own tolerance goes before
    QVERIFY(!*probe.within);
    Probe outside;
    outside.why = "outside";
    compareWith(outside, {"slate", seen}, 2);
    QVERIFY(!outside.within && outside.target); // nothing to compare is neither met nor missed
}

void ProbeTest::namesMatchInAnyCase()
{
    const std::vector<ProbeTarget> targets{{"Slate", {40, 0, 0}}, {"slate blue", {40, 0, -9}}};
    QCOMPARE(targetNamed(targets, "slate"), &targets[0]);
    QCOMPARE(targetNamed(targets, "SLATE BLUE"), &targets[1]);
    QVERIFY(!targetNamed(targets, "slat"));
}

void ProbeTest::aForetoldErrorIsThatOfTheNeighbours()
{
    const auto erring = [](double reds, double greens) {
        return ForetoldError(withEvidence({{{50, 60, 0}, reds},
                                           {{55, 55, 5}, reds},
                                           {{45, 58, -4}, reds},
                                           {{50, -60, 0}, greens},
                                           {{55, -55, 5}, greens},
                                           {{45, -58, -4}, greens}}));
    };
    const auto inReds = erring(4, 1), inGreens = erring(1, 4);
    QVERIFY(inReds.isKnown());
    for (const Lab &red : {Lab{50, 57, 0}, {30, 50, 10}})
        QVERIFY(inReds.at(red) > 1.3 * inGreens.at(red));
    QVERIFY(inGreens.at({50, -57, 0}) > 1.3 * inReds.at({50, -57, 0}));
    QVERIFY(inReds.at({50, 57, 0}) > 2.5 && inReds.at({50, 57, 0}) < 5);
}

/// Whatever the calibration: as bench/foretold_bench.cpp finds it on simulated surfaces.
void ProbeTest::someColoursErrMoreThanTheirPatches()
{
    const ForetoldError even(withEvidence({{{30, 0, 0}, 2}, {{60, 0, 0}, 2}, {{90, 0, 0}, 2}}));
    QVERIFY(even.at({70, 0, 0}) > 1.3 * even.at({25, 0, 0}));
    QVERIFY(even.at({30, -20, -40}) > 1.3 * even.at({30, 20, 40}));
    QVERIFY(even.at({50, 0, -140}) < 1.6 * even.at({50, 0, -100})); // not beyond what it was fitted to
}

void ProbeTest::farFromEveryPatchMoreIsExpected()
{
    const ForetoldError foretold(withEvidence({{{50, 0, 0}, 1}, {{60, 5, 0}, 1}, {{40, 0, 5}, 1}}));
    QVERIFY(foretold.at({50, 0, 60}) > foretold.at({50, 0, 30}));
    QVERIFY(foretold.at({50, 0, 30}) > foretold.at({50, 0, 2}));
}

void ProbeTest::withoutEvidenceNothingIsForetold()
{
    QVERIFY(!ForetoldError(withEvidence({{{50, 0, 0}, -1}})).isKnown());
    QCOMPARE(ForetoldError(Calibration()).at({50, 0, 0}), 0.0);
}

static const testing::Registered<ProbeTest> registeredProbeTest("probe_test");
#include "probe_test.moc"
