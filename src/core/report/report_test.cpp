#include "core/report/record_report.h"
#include "support/registry.h"

#include <QFile>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;

namespace {

Report sample(Paper paper = Paper::A4)
{
    Report out;
    out.title = "Harbour Row, <b>autumn</b> & winter";
    out.date = "2026-10-14";
    out.madeAt = "2026-10-14T18:00:00";
    out.madeWith = "Wavechroma test";
    out.paper = paper;
    out.blocks.push_back(Heading{1, "Seven of eight colours hold", false});
    out.blocks.push_back(Paragraph{"Weld & <i>madder</i> on 3 °C wool", Paragraph::Kind::Lead});
    ReportTable table{{{"File", 2}, {"Hash", 3, true}}, {}};
    for (int i = 0; i < 120; ++i)
        table.rows.push_back({"row " + std::to_string(i), std::string(64, char('a' + i % 26))});
    out.blocks.push_back(table);
    Figure figure{200, 100, {}, "a figure"};
    figure.shapes.push_back(Label{10, 50, "in the figure", 8});
    figure.shapes.push_back(Disc{100, 50, 20, {0, Lab{50, 40, 20}}, kInk});
    out.blocks.push_back(Heading{2, "Figures", false});
    out.blocks.push_back(ReportFigures{{figure}, "its caption"});
    std::string longText;
    for (int i = 0; i < 900; ++i)
        longText += "word" + std::to_string(i) + " ";
    out.blocks.push_back(Paragraph{longText});
    return out;
}

} // namespace

/// By other readers: the PDF tools of the system.
class ReportTest : public QObject
{
    Q_OBJECT
private slots:
    void itIsReadByOthers_data();
    void itIsReadByOthers();
    void theSameReportGivesTheSameBytes();
    void nothingIsLostAtThePageEnd();
    void aPageOfHtmlEscapes();
    void aVerdictCountsThingsBeforeStations();

private:
    QString told(const QString &command)
    {
        QProcess shell;
        shell.start("sh", {"-c", command});
        return shell.waitForFinished(30000) ? QString::fromUtf8(shell.readAllStandardOutput()) : QString();
    }
    QString written(const Report &report, const char *name)
    {
        const auto bytes = pdfOf(report);
        QFile file(m_folder.filePath(name));
        if (!bytes || !file.open(QIODevice::WriteOnly))
            qFatal("no report");
        file.write(reinterpret_cast<const char *>(bytes->data()), qint64(bytes->size()));
        return file.fileName();
    }
    QTemporaryDir m_folder;
};

void ReportTest::itIsReadByOthers_data()
{
    QTest::addColumn<int>("paper");
    QTest::addColumn<QString>("size");
    QTest::newRow("A4") << int(Paper::A4) << "595.276 x 841.89 pts (A4)";
    QTest::newRow("Letter") << int(Paper::Letter) << "612 x 792 pts (letter)";
}

void ReportTest::itIsReadByOthers()
{
    QFETCH(int, paper);
    QFETCH(QString, size);
    const auto file = written(sample(Paper(paper)), "report.pdf");
    const auto facts = told("pdfinfo " + file);
    QVERIFY2(facts.contains("Title:           Harbour Row, <b>autumn</b> & winter"), qPrintable(facts));
    QVERIFY2(facts.contains(size), qPrintable(facts));
    QVERIFY2(QRegularExpression("Tagged: +yes").match(facts).hasMatch(), qPrintable(facts));
    // the tools list no texts of figures: all of the file's objects, unpacked
    const auto objects = told("python3 -c 'import re, sys, zlib\n"
                              "data = open(sys.argv[1], \"rb\").read()\n"
                              "print(data)\n"
                              "for found in re.finditer(rb\"stream\\r?\\n(.*?)endstream\", data, re.S):\n"
                              "    try: print(zlib.decompress(found[1]))\n"
                              "    except zlib.error: pass' " +
                              file);
    QVERIFY2(QRegularExpression("/Alt \\(a figure\\)[^>]*/S /Figure").match(objects).hasMatch(),
             qPrintable(objects.mid(objects.indexOf("/Figure") - 200, 400)));
    const auto order = told("pdfinfo -struct-text " + file);
    QVERIFY2(order.startsWith("H1 (block)\n  \"Seven of eight colours hold\"\nP (block)\n"),
             qPrintable(order.left(300)));
    QVERIFY(order.contains("H2 (block)") && order.contains("Table (block)") && order.contains("Figure"));
    QVERIFY2(facts.contains("Wed Oct 14 18:00:00 2026"), qPrintable(facts));
    // every font is Inter, embedded, and its letters are known by their codes
    const auto fonts = told("pdffonts " + file).split('\n', Qt::SkipEmptyParts).mid(2);
    QVERIFY(fonts.size() >= 2);
    for (const auto &font : fonts)
        QVERIFY2(font.contains("Inter") && QRegularExpression("yes +yes +yes").match(font).hasMatch(),
                 qPrintable(font));
    const auto text = told("pdftotext -layout " + file + " -");
    QVERIFY2(text.contains("Weld & <i>madder</i> on 3 °C wool") && text.contains("in the figure"),
             qPrintable(text.left(2000)));
}

void ReportTest::theSameReportGivesTheSameBytes()
{
    QVERIFY(*pdfOf(sample()) == *pdfOf(sample()));
    QVERIFY(htmlOf(sample()) == htmlOf(sample()));
}

/// The table goes on with its head repeated, the long paragraph line by line, each line within the page.
void ReportTest::nothingIsLostAtThePageEnd()
{
    const auto file = written(sample(), "long.pdf");
    const auto pages =
        QRegularExpression("Pages: +(\\d+)").match(told("pdfinfo " + file)).captured(1).toInt();
    QVERIFY(pages >= 4);
    const auto text = told("pdftotext -layout " + file + " -").split('\f');
    QCOMPARE(text.size() - 1, pages);
    for (int i = 0; i < pages; ++i) {
        QVERIFY(text[i].contains(QString("Page %1 of %2").arg(i + 1).arg(pages)));
        if (text[i].contains("row "))
            QVERIFY2(text[i].contains("Hash"), qPrintable(text[i]));
    }
    const auto all = text.join(' ');
    for (int i = 0; i < 120; ++i)
        QVERIFY(QRegularExpression(QString("\\brow %1\\b").arg(i)).match(all).hasMatch());
    for (int i = 0; i < 900; ++i)
        QVERIFY(all.contains(QString("word%1 ").arg(i)) || all.contains(QString("word%1\n").arg(i)));
    auto at =
        QRegularExpression("xMin=\"([-0-9.]+)\" yMin=\"([-0-9.]+)\" xMax=\"([-0-9.]+)\" yMax=\"([-0-9.]+)\">")
            .globalMatch(told("pdftotext -bbox " + file + " -"));
    int words = 0;
    for (; at.hasNext(); ++words) {
        const auto box = at.next();
        QVERIFY(box.captured(1).toDouble() >= 40 && box.captured(3).toDouble() <= 556);
        QVERIFY(box.captured(2).toDouble() >= 20 && box.captured(4).toDouble() <= 822);
    }
    QVERIFY(words > 1000);
}

void ReportTest::aPageOfHtmlEscapes()
{
    const auto html = QString::fromStdString(htmlOf(sample()));
    QVERIFY(html.contains("Weld &amp; &lt;i&gt;madder&lt;/i&gt;"));
    QVERIFY(!html.contains("<b>autumn"));
    QVERIFY(html.contains("<svg") && html.contains("<circle"));
    // the letters that it uses, and no others, in three weights; by the system's own reader of fonts
    const QRegularExpression face("font-weight:(\\d+);src:url\\(data:font/otf;base64,([^)]+)\\)");
    QStringList weights;
    for (const auto &one : face.globalMatch(html)) {
        weights << one.captured(1);
        QFile font(m_folder.filePath("page.otf"));
        QVERIFY(font.open(QIODevice::WriteOnly));
        font.write(QByteArray::fromBase64(one.captured(2).toLatin1()));
        font.close();
        const auto letters = told("fc-query --format '%{family} %{charset}' " + font.fileName());
        QVERIFY2(letters.startsWith("Inter "), qPrintable(letters));
        QVERIFY2(QRegularExpression("\\bb0\\b").match(letters).hasMatch(), qPrintable(letters)); // °
        QVERIFY2(!letters.contains("416"), qPrintable(letters));                                 // Ж
        QVERIFY(font.size() < 60'000);
    }
    QCOMPARE(weights, QStringList({"400", "600", "700"}));
}

void ReportTest::aVerdictCountsThingsBeforeStations()
{
    JobRecord record;
    record.title = "A job";
    QVERIFY(!record.passes()); // nothing was held to a limit
    RecordStation station;
    station.name = "North table";
    station.why = "no-chart";
    record.stations.push_back(station);
    const auto textOf = [&] {
        std::string out;
        for (const auto &block : reportOf(record, {}, Paper::A4, "").blocks)
            if (const auto *heading = std::get_if<Heading>(&block))
                out += heading->text + "\n";
        return out;
    };
    QVERIFY(textOf().starts_with("Nothing was held to a limit"));
    for (const bool isWithin : {true, false, true}) {
        if (record.objects.size() == 1) {
            QVERIFY(textOf().starts_with("The colour holds"));
            QVERIFY(record.passes());
        }
        RecordObject object;
        object.probe.place.name = isWithin ? "weld" : "madder";
        object.probe.lab = Lab{50, 0, 0};
        object.probe.target = ProbeTarget{object.probe.place.name, Lab{51, 0, 0}, {}};
        object.probe.within = isWithin;
        record.objects.push_back(object);
    }
    QVERIFY(textOf().starts_with("1 of 2 colours hold"));
    QVERIFY(!record.passes());
}

static const testing::Registered<ReportTest> registeredReportTest("report_test");
#include "report_test.moc"
