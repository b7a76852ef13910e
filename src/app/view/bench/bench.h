#pragma once
#include "app/model/frame_editor.h"

#include <QWidget>
#include <array>

class QHBoxLayout;
class QStackedLayout;

namespace wavechroma::app {

class BalanceStop;
class FitStop;
class FrameView;
class ProductBench;
class ProofStop;
class ReadStop;
class StopColumn;
class TruePixels;

/// One station as a line of four stops: one open, the others slim columns that show their result at rest.
/// Lays out and forwards; what is done is done by the frame editor.
class Bench : public QWidget
{
    Q_OBJECT
public:
    Bench(JobDocument *job, TaskRunner *tasks, QWidget *parent = nullptr);

    void openStop(int number); ///< 1 to 4
    [[nodiscard]] int openedStop() const { return m_open; }
    [[nodiscard]] FrameEditor *editor() const { return m_editor; }
    [[nodiscard]] const BenchFacts &facts() const { return *m_editor->facts(); }
    [[nodiscard]] ReadStop *readStop() const { return m_read; }
    [[nodiscard]] BalanceStop *balanceStop() const { return m_balance; }
    [[nodiscard]] FitStop *fitStop() const { return m_fit; }
    [[nodiscard]] ProofStop *proofStop() const { return m_proof; }
    [[nodiscard]] ProductBench *product() const { return m_product; }
    [[nodiscard]] bool isProduct() const;  ///< a product frame lies on it
    [[nodiscard]] FrameView *view() const; ///< that is shown: the chart's or the product's
    void measureRuler(double millimetres); ///< of the ruler that was drawn last

signals:
    void rulerLengthAsked();

private:
    void connectView();
    void showFacts();
    void showPicture();

    JobDocument *m_job;
    FrameEditor *m_editor;
    TruePixels *m_pixels;
    ReadStop *m_read;
    BalanceStop *m_balance;
    FitStop *m_fit;
    ProofStop *m_proof;
    std::array<StopColumn *, 4> m_columns{};
    ProductBench *m_product;
    QStackedLayout *m_stack;
    QHBoxLayout *m_line;
    std::array<PixelPoint, 2> m_ruler{};
    int m_open = 1;
};

} // namespace wavechroma::app
