#include "app/model/true_pixels.h"
#include "core/raw/open_frame.h"
#include "support/registry.h"
#include "support/six_by_six.h"

#include <QSignalSpy>
#include <QTemporaryDir>
#include <QTest>

using namespace wavechroma;
using namespace wavechroma::app;

class TruePixelsTest : public QObject
{
    Q_OBJECT
private slots:
    void otherFiltersHaveThemToo();
    void whatNoLibraryReadsLeavesNone();

private:
    QTemporaryDir m_folder;
    std::shared_ptr<OpenFrame> sixBySix();
};

std::shared_ptr<OpenFrame> TruePixelsTest::sixBySix()
{
    const auto path = m_folder.filePath("six.dng").toStdString();
    if (!testing::SixBySix::write(path))
        return nullptr;
    auto frame = openFrame(path);
    if (!frame)
        return nullptr;
    auto out = std::make_shared<OpenFrame>();
    out->frame = std::make_shared<RawFrame>(std::move(*frame));
    out->pixels = std::make_shared<TruePixelSource>(out->frame);
    return out;
}

void TruePixelsTest::otherFiltersHaveThemToo()
{
    const auto frame = sixBySix();
    QVERIFY(frame && frame->frame->mosaic && frame->frame->mosaic->periodX == 6);
    QVERIFY(!frame->pixels->isAtHand());
    TaskRunner runner;
    TruePixels pixels(&runner);
    QSignalSpy told(&runner, &TaskRunner::progressed);
    pixels.setFrame(frame);
    pixels.see({250, 200, 100, 60});
    QTRY_VERIFY_WITH_TIMEOUT(!pixels.area().isEmpty(), 20000);
    QVERIFY(!told.isEmpty()); // it takes seconds where a frame is large: something is said
    QVERIFY(frame->pixels->isAtHand());
    const auto &image = pixels.image();
    QCOMPARE(image.size(), pixels.area().size());
    const auto at = [&](int x, int y) {
        return QColor(image.pixel(x - pixels.area().x(), y - pixels.area().y()));
    };
    const auto like = [](const QColor &a, const QColor &b) {
        return std::max({std::abs(a.red() - b.red()), std::abs(a.green() - b.green()),
                         std::abs(a.blue() - b.blue())}) <= 2;
    };
    const auto green = at(260, 220), pink = at(340, 220);
    QVERIFY(green.green() > green.red() + 40 && pink.red() > pink.green() + 40);
    constexpr int kEdge = testing::SixBySix::kEdge;
    // plain up to the edge, which is where it was and three pixels wide at most: filter cells are six
    for (int y = 205; y < 255; ++y)
        for (int x = 255; x < 345; ++x)
            if (x < kEdge - 3 || x >= kEdge + 3)
                QVERIFY2(like(at(x, y), x < kEdge ? green : pink),
                         qPrintable(QString("%1 %2").arg(x).arg(y)));
    // elsewhere it is there at once, without a word
    told.clear();
    pixels.see({20, 20, 60, 60});
    QTRY_VERIFY_WITH_TIMEOUT(pixels.area().contains(QRect(20, 20, 60, 60)), 20000);
    QVERIFY(told.isEmpty());
}

void TruePixelsTest::whatNoLibraryReadsLeavesNone()
{
    const auto frame = sixBySix();
    QVERIFY(frame);
    QVERIFY(QFile::remove(m_folder.filePath("six.dng"))); // it is read anew
    const auto answer = frame->pixels->read({0, 0, 50, 50}, false);
    QVERIFY(!answer && answer.error().message.find("six.dng") != std::string::npos);
    TaskRunner runner;
    TruePixels pixels(&runner);
    pixels.setFrame(frame);
    pixels.see({250, 200, 100, 60});
    runner.finish("pixels");
    QVERIFY(pixels.area().isEmpty() && pixels.image().isNull());
}

static const testing::Registered<TruePixelsTest> registeredTruePixelsTest("true_pixels_test");
#include "true_pixels_test.moc"
