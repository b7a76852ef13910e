#include "core/base/filled.h"
#include "core/base/result.h"
#include "core/fit/calibration.h"
#include "core/words/check_words.h"
#include "core/words/fit_words.h"
#include "core/words/proof_words.h"
#include "core/words/setting_words.h"
#include "support/registry.h"

#include <QTest>
#include <cmath>

using namespace wavechroma;
using words::Language;

class WordsTest : public QObject
{
    Q_OBJECT
private slots:
    void settingsAreReadAsTheyAreWritten();
    void settingsRefuseWhatTheyAreNot();
    void placesAreFilled_data();
    void placesAreFilled();
    void stopsAreSaidInThirds_data();
    void stopsAreSaidInThirds();
    void aTranslationMayTurnPlacesRound();
    void aLanguageHasItsOwnPlurals();
    void faultsAreSaidInTheLanguageToo();
    void everySeverityHasItsWords();
    void everyFindingHasItsSentence();
    void directionsInWords_data();
    void directionsInWords();
    void whatWasTakenOutIsSaid();
    void leansAreSaidInSteps();
};

namespace {

/// The templates of a made-up language: what stands left becomes what stands right.
Language speaking(std::map<std::string, std::string, std::less<>> sentences)
{
    Language language;
    language.decimalSign = ",";
    language.translated = [sentences = std::move(sentences)](std::string_view text) {
        const auto found = sentences.find(text);
        return found == sentences.end() ? std::string() : found->second;
    };
    return language;
}

} // namespace

void WordsTest::placesAreFilled_data()
{
    QTest::addColumn<QString>("text");
    QTest::addColumn<double>("x");
    QTest::addColumn<QString>("plain");
    QTest::addColumn<QString>("comma");
    QTest::newRow("decimals") << "a {x:2} b" << 1.234 << "a 1.23 b"
                              << "a 1,23 b";
    QTest::newRow("true minus") << "{x:1}" << -0.25 << "−0.2"
                                << "−0,2";
    QTest::newRow("no minus at zero") << "{x:1}" << -0.04 << "0.0"
                                      << "0,0";
    QTest::newRow("with a sign") << "{x:+1}" << 0.5 << "+0.5"
                                 << "+0,5";
    QTest::newRow("share") << "{x:%}" << 0.128 << "13 %"
                           << "13 %";
    QTest::newRow("share with decimals") << "{x:%1}" << 0.0127 << "1.3 %"
                                         << "1,3 %";
    QTest::newRow("kelvin") << "{x:K}" << 5123.0 << "5 120 K"
                            << "5 120 K";
    QTest::newRow("one") << "{x|patch is|patches are} off" << 1.0 << "patch is off"
                         << "patch is off";
    QTest::newRow("many") << "{x|patch is|patches are} off" << 3.0 << "patches are off"
                          << "patches are off";
    QTest::newRow("not given") << "{y} {x:0}" << 3.0 << "{y} 3"
                               << "{y} 3";
}

void WordsTest::placesAreFilled()
{
    QFETCH(QString, text);
    QFETCH(double, x);
    QFETCH(QString, plain);
    QFETCH(QString, comma);
    const auto said = [&](const Language &language) {
        return QString::fromStdString(words::filled(text.toStdString(), {{"x", x}}, language));
    };
    QCOMPARE(said(words::plain()), plain);
    QCOMPARE(said(speaking({})), comma);
}

void WordsTest::stopsAreSaidInThirds_data()
{
    QTest::addColumn<double>("stops");
    QTest::addColumn<QString>("text");
    QTest::newRow("a third") << 0.3 << "1/3 stop";
    QTest::newRow("two thirds down") << -0.7 << "2/3 stop";
    QTest::newRow("one") << 1.1 << "1 stop";
    QTest::newRow("one and a third") << 1.33 << "1 1/3 stops";
    QTest::newRow("two") << 1.9 << "2 stops";
    QTest::newRow("none") << 0.1 << "0 stops";
}

void WordsTest::stopsAreSaidInThirds()
{
    QFETCH(double, stops);
    QFETCH(QString, text);
    QCOMPARE(QString::fromStdString(words::stops(stops, words::plain())), text);
}

void WordsTest::aTranslationMayTurnPlacesRound()
{
    const auto other =
        speaking({{"The {side} is {value:%} darker.", "{value:%} sombra a la {side}."}, {"left", "izda"}});
    Check check{CheckId::Evenness, Severity::Warn, 0.24, 0.1, "share", {}, "side"};
    check.side = Side::Left;
    QCOMPARE(words::finding(check), std::string("The left is 24 % darker."));
    QCOMPARE(words::finding(check, other), std::string("24 % sombra a la izda."));
}

void WordsTest::aLanguageHasItsOwnPlurals()
{
    Language language;
    language.pluralForm = [](double n) { return size_t(n == 1 ? 0 : n < 5 ? 1 : 2); };
    for (const auto &[n, form] : {std::pair{1.0, "a"}, {3.0, "b"}, {7.0, "c"}})
        QCOMPARE(words::filled("{n|a|b|c}", {{"n", n}}, language), std::string(form));
    QCOMPARE(words::filled("{n|a|b}", {{"n", 7.0}}, language),
             std::string("b")); // fewer forms than the language has
}

void WordsTest::faultsAreSaidInTheLanguageToo()
{
    // a reason within a sentence, and figures in both
    const words::Phrase reason{"{n} of {all:1} MB are there", {{"n", 3.0}, {"all", 24.5}}};
    const auto error = unusable("{file}: {reason}", {{"file", "frame.dng"}, {"reason", reason}});
    QCOMPARE(error.message, std::string("frame.dng: 3 of 24.5 MB are there"));
    const auto other = speaking({{"{file}: {reason}", "{reason} ({file})"},
                                 {"{n} of {all:1} MB are there", "of {all:1} MB only {n}"}});
    QCOMPARE(words::filled(error.phrase, other), std::string("of 24,5 MB only 3 (frame.dng)"));
    // what stands in a file's name is no place
    QCOMPARE(unusable("{file}: is empty", {{"file", "{file}.dng"}}).message,
             std::string("{file}.dng: is empty"));
}

void WordsTest::everySeverityHasItsWords()
{
    Check clipping{CheckId::Clipping, Severity::Stop, 1, 0.01, "share", {"D1", "A4"}, "clipped"};
    clipping.stops = 1.33;
    QCOMPARE(words::message(clipping), std::string("D1, A4 are clipped. Close down 1 1/3 stops."));
    clipping.stops.reset(); // how far is not known
    QCOMPARE(words::message(clipping), std::string("D1, A4 are clipped."));
    clipping.patches = {"D1"};
    QCOMPARE(words::finding(clipping), std::string("D1 is clipped."));
    Check found{CheckId::Found, Severity::Stop, 0, 0.5, "confidence", {}, "not-found"};
    found.chart = "24-patch chart";
    found.seenInstead = "grey card";
    QVERIFY(words::message(found).find("looks like the grey card") != std::string::npos);
    QCOMPARE(words::finding({CheckId::Found, Severity::Ok, 0, 0, "", {}, "no such"}), std::string());
    const std::vector<std::string> many{"A1", "A2", "A3", "A4", "A5", "A6"};
    QCOMPARE(words::listed(many, words::plain()), std::string("A1, A2, A3, A4 and 2 more"));
}

void WordsTest::everyFindingHasItsSentence()
{
    for (const auto &row : kChecks)
        for (const auto *finding : row.findings) {
            if (!finding)
                continue;
            Check check{row.id, Severity::Warn, 0.5, 0.1, "share", {"A1"}, finding};
            check.chart = "24-patch chart";
            const auto said = words::finding(check);
            QVERIFY2(said.size() > 5 && said.find('{') == said.npos,
                     (std::string(row.name) + " " + finding).c_str());
        }
}

void WordsTest::directionsInWords_data()
{
    QTest::addColumn<QList<double>>("reference");
    QTest::addColumn<QList<double>>("result");
    QTest::addColumn<QString>("said");
    const auto row = [](const char *name, QList<double> reference, QList<double> result, const char *said) {
        QTest::newRow(name) << reference << result << QString(said);
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

void WordsTest::directionsInWords()
{
    QFETCH(QList<double>, reference);
    QFETCH(QList<double>, result);
    QFETCH(QString, said);
    PatchProof p;
    p.reference = {reference[0], reference[1], reference[2]};
    p.lab = {result[0], result[1], result[2]};
    p.dL = p.lab.l - p.reference.l;
    p.dC = std::hypot(p.lab.a, p.lab.b) - std::hypot(p.reference.a, p.reference.b);
    p.dH = std::sqrt(std::max(0.0, std::pow(p.lab.a - p.reference.a, 2) +
                                       std::pow(p.lab.b - p.reference.b, 2) - p.dC * p.dC));
    QCOMPARE(QString::fromStdString(words::direction(p)), said);
}

void WordsTest::whatWasTakenOutIsSaid()
{
    TakenOut taken;
    QVERIFY(words::takenOut(taken, lightRangeOf(taken)).empty());
    taken.patches = {"A4", "C1"};
    taken.flare = 0.049;
    const auto said = words::takenOut(taken, lightRangeOf(taken));
    QVERIFY2(said.find("4.9 %") != std::string::npos && said.find("Left out: A4, C1.") != std::string::npos,
             said.c_str());
    QVERIFY(words::takenOut(taken, lightRangeOf(taken), speaking({})).find("4,9 %") != std::string::npos);
}

void WordsTest::leansAreSaidInSteps()
{
    QCOMPARE(words::reds(0), std::string("exact"));
    QCOMPARE(words::reds(-1), std::string("1 step calmer"));
    QCOMPARE(words::chroma(3), std::string("3 steps livelier"));
}

/// Other values than the default of each row, as texts.
static std::vector<std::string> otherValues(const Setting &row)
{
    std::vector<std::string> out;
    for (const auto &choice : row.choices)
        out.push_back(choice.id);
    switch (row.kind) {
    case Setting::Kind::Switch:
        return {"on"};
    case Setting::Kind::Choice:
        return out;
    case Setting::Kind::Whole:
        return {"7", "100"};
    case Setting::Kind::Number:
        return {"118.1102", "300"};
    case Setting::Kind::Amount:
        return {"chart", "0.25"};
    case Setting::Kind::Text:
        break;
    }
    return {"Mirren Sule"};
}

template <class S> static void checkRoundTrip(const std::vector<SettingRow<S>> &rows)
{
    for (const auto &row : rows)
        for (const auto &value : otherValues(row)) {
            S settings;
            QVERIFY2(row.put(row, settings, value), row.key);
            QCOMPARE(row.text(row, settings), value);
            for (const auto &other : rows) // and nothing else is touched
                QCOMPARE(other.text(other, settings), other.key == row.key ? value : other.text(other, S{}));
        }
}

void WordsTest::settingsAreReadAsTheyAreWritten()
{
    checkRoundTrip(pictureSettings());
    checkRoundTrip(profileSettings());
    DeliveryForm form{"client"};
    form.picture.format = PictureFormat::Jpeg;
    form.picture.longSide = 2400;
    form.picture.sharpen.by = ChartAmount::By::Chart;
    QCOMPARE(words::summary(form), std::string("JPEG, sRGB, 2400 px long side, sharpened"));
}

void WordsTest::settingsRefuseWhatTheyAreNot()
{
    const auto refuse = [](const char *key, const char *text) {
        for (const auto &row : pictureSettings())
            if (row.key == std::string_view(key)) {
                PictureSettings settings;
                QVERIFY2(!row.put(row, settings, text), text);
                QVERIFY(settings == PictureSettings());
                return;
            }
        QFAIL(key);
    };
    refuse("format", "bmp");
    refuse("space", "");
    refuse("long_side", "0");
    refuse("long_side", "12.5");
    refuse("ppi", "1e9");
    refuse("quality", "");
    refuse("sharpen", "2.6");
    refuse("sharpen", "charts");
    refuse("straighten", "-0.31");
}

static const testing::Registered<WordsTest> registeredWordsTest("words_test");
#include "words_test.moc"
