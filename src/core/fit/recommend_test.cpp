#include "core/fit/recommend.h"
#include "support/registry.h"

#include <QTest>

using namespace wavechroma;

/// Which model is recommended, and why: by invented figures, so that each rule is met alone.
class RecommendTest : public QObject
{
    Q_OBJECT
private slots:
    void theSimplestUnlessARicherOneIsWorthIt();
    void aTableIsTakenForFourPercent();
    void theRootPolynomialHasCredit();
    void unsoundModelsAreNot();
    void doubtfulReadingsAreAnsweredSimply_data();
    void doubtfulReadingsAreAnsweredSimply();
    void whatWasTakenOutIsDoubtToo();
    void somethingIsAlwaysRecommended();
};

namespace {

Calibration made(const std::string &model, double unseen)
{
    Calibration c;
    c.model = model;
    c.crossValidated.mean = unseen;
    c.figures = {};
    c.figures.mostStretch = 1.1;
    c.figures.leastStretch = 0.9;
    c.figures.sensitivity = 0.02;
    return c;
}

std::string chosen(const std::vector<Calibration> &all, const Reading &reading = {})
{
    return all[recommendationOf(all, reading).index].model;
}

Check warning(const char *id)
{
    Check check;
    check.id = id;
    check.severity = Severity::Warn;
    return check;
}

} // namespace

void RecommendTest::theSimplestUnlessARicherOneIsWorthIt()
{
    const std::vector<Calibration> all{made("balance", 4), made("matrix", 2), made("matrix-offset", 1.95),
                                       made("lut", 1.93)};
    QCOMPARE(chosen(all), std::string("matrix"));
    QVERIFY(recommendationOf(all, {}).why.find("nothing richer does clearly better") != std::string::npos);
    QCOMPARE(chosen({made("balance", 2), made("matrix", 1.95)}), std::string("balance"));
}

void RecommendTest::aTableIsTakenForFourPercent()
{
    const std::vector<Calibration> all{made("matrix", 2), made("lut", 1.6)};
    const auto choice = recommendationOf(all, {});
    QCOMPARE(choice.index, size_t(1));
    QVERIFY2(choice.why.find("1.60") != std::string::npos && choice.why.find("20 %") != std::string::npos,
             choice.why.c_str());
}

void RecommendTest::theRootPolynomialHasCredit()
{
    QCOMPARE(chosen({made("matrix", 2), made("root-polynomial", 2.1)}),
             std::string("root-polynomial")); // worse by less than a tenth
    QCOMPARE(chosen({made("matrix", 2), made("root-polynomial", 2.3)}), std::string("matrix"));
    QCOMPARE(chosen({made("matrix", 2), made("root-polynomial", 2.1), made("lut", 1.9)}),
             std::string("root-polynomial")); // 1.9 is not 4 % under 2.1 / 1.1
    QCOMPARE(chosen({made("matrix", 2), made("root-polynomial", 2.1), made("lut", 1.7)}), std::string("lut"));
    const std::vector<Calibration> all{made("matrix", 2), made("root-polynomial", 2.1)};
    const auto why = recommendationOf(all, {}).why; // what it errs by is said as it is
    QVERIFY2(why.find("as matrix on unseen patches (2.10 and 2.00)") != std::string::npos, why.c_str());
    const auto other =
        recommendationOf(std::vector{made("matrix", 2), made("root-polynomial", 2.1), made("lut", 1.9)}, {})
            .why;
    QVERIFY2(other.find("as lut on unseen patches (2.10 and 1.90)") != std::string::npos, other.c_str());
}

void RecommendTest::unsoundModelsAreNot()
{
    auto folded = made("lut", 1), stretched = made("curves-lut", 1), nervous = made("root-polynomial", 1);
    folded.figures.leastStretch = 0.1;
    stretched.figures.mostStretch = 4;
    nervous.figures.sensitivity = 0.6;
    QCOMPARE(chosen({made("matrix", 2), nervous, folded, stretched}), std::string("matrix"));
}

void RecommendTest::doubtfulReadingsAreAnsweredSimply_data()
{
    QTest::addColumn<QString>("check");
    QTest::addColumn<QString>("words");
    QTest::newRow("flare") << "flare"
                           << "there was flare";
    QTest::newRow("evenness") << "evenness"
                              << "the light was uneven";
    QTest::newRow("glare") << "glare"
                           << "there was glare";
    QTest::newRow("obstruction") << "obstruction"
                                 << "patches were hidden";
    QTest::newRow("clipping") << "clipping"
                              << "patches were burnt out";
    QTest::newRow("underexposure") << "underexposure"
                                   << "patches were too dark";
}

void RecommendTest::doubtfulReadingsAreAnsweredSimply()
{
    QFETCH(QString, check);
    QFETCH(QString, words);
    const std::vector<Calibration> all{made("balance", 4), made("matrix", 2), made("root-polynomial", 1.5),
                                       made("lut", 1.2)};
    Reading reading;
    QCOMPARE(chosen(all, reading), std::string("lut"));
    reading.checks = {warning(check.toLatin1())};
    const auto choice = recommendationOf(all, reading);
    QCOMPARE(all[choice.index].model, std::string("matrix"));
    QVERIFY2(choice.why.find(words.toStdString()) != std::string::npos, choice.why.c_str());
    reading.checks[0].severity = Severity::Ok;
    QCOMPARE(chosen(all, reading), std::string("lut"));
    reading.checks = {warning("focus")}; // a soft picture says nothing about colour
    QCOMPARE(chosen(all, reading), std::string("lut"));
}

void RecommendTest::whatWasTakenOutIsDoubtToo()
{
    std::vector<Calibration> all{made("matrix", 2), made("lut", 1.2)};
    all[0].takenOut.flare = 0.01;
    QCOMPARE(chosen(all), std::string("lut")); // as much as any lens gives
    all[0].takenOut.flare = 0.05;
    QCOMPARE(chosen(all), std::string("matrix"));
    QVERIFY(recommendationOf(all, {}).why.find("flare of 5.0 %") != std::string::npos);
    all[0].takenOut = {};
    all[0].takenOut.patches = {"C4"};
    QCOMPARE(chosen(all), std::string("matrix"));
}

void RecommendTest::somethingIsAlwaysRecommended()
{
    auto folded = made("matrix", 1);
    folded.figures.leastStretch = 0;
    QCOMPARE(recommendationOf(std::vector{folded}, {}).index, size_t(0));
    auto only = made("lut", 1);
    Reading reading;
    reading.checks = {warning("flare")};
    QCOMPARE(chosen({only}, reading), std::string("lut"));
}

static const testing::Registered<RecommendTest> registered("recommend_test");
#include "recommend_test.moc"
