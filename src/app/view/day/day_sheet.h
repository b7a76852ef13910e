#pragma once
#include "app/model/job_document.h"
#include "app/model/thumbnails.h"

#include <QHash>
#include <QScrollArea>
#include <map>
#include <tuple>

namespace wavechroma::app {

/// The job as it happened: a band for each lighting setup, a lane for each camera–lens pair in it, frames in
/// time order, and at the lane's end the station's answer.
class DayCanvas : public QWidget
{
    Q_OBJECT
public:
    DayCanvas(JobDocument *job, Thumbnails *thumbnails, QWidget *parent = nullptr);
    QSize sizeHint() const override;
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

    /// What is noted of a frame, in sentences; for tooltips and readers.
    [[nodiscard]] QString noteOf(RowId frame) const { return m_notes.value(frame).words().join('\n'); }
    [[nodiscard]] RowId selected() const { return m_selected; }
    void select(RowId frame);
    [[nodiscard]] QRect frameRect(RowId frame) const; ///< empty when it is not on the sheet
    [[nodiscard]] QRect answerRect(int lane) const;
    [[nodiscard]] int foldedFrames(RowId frame) const; ///< that stand as one where it is entered; 0: none

    /// What stands on the sheet, as it is read aloud.
    struct Piece
    {
        enum class Kind { Setup, Frames, Answer } kind; ///< Frames: one, or a folded run
        QRect rect;
        QString said;
        RowId frame; ///< that opens; 0: none
        bool chosen;
    };
    [[nodiscard]] const std::vector<Piece> &pieces() const; ///< in reading order; until the sheet changes

signals:
    void selectionChanged();
    void openAsked(qint64 frame); ///< double click, Enter, or a click on an answer
    void renameAsked(qint64 setup);
    void showAsked(const QRect &where); ///< keeps the selection in sight

protected:
    void showEvent(QShowEvent *event) override;
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    bool event(QEvent *event) override;

private:
    struct PlacedFrame
    {
        RowId id; ///< of a folded run: where it is entered
        QRect rect;
        std::vector<RowId> folded = {}; ///< frames that stand there as one; empty: a frame by itself
    };
    struct PlacedLane
    {
        QRect rect, answer, setup; ///< `setup` only on a band's first lane
        int line = 0;              ///< y of the lane's line
        std::vector<PlacedFrame> frames;
    };

    void refresh();
    void chosenOrPlacedAnew(); ///< the pieces are no longer what they were
    [[nodiscard]] QString setupSentence(const Station &lane) const;
    [[nodiscard]] QString answerSentence(const Station &lane) const;
    [[nodiscard]] QStringList frameWords(RowId frame) const;                  ///< all there is to say of it
    [[nodiscard]] QStringList foldWords(const std::vector<RowId> &run) const; ///< count and doubts; time
    [[nodiscard]] QString spanWords(const std::vector<RowId> &run) const;
    [[nodiscard]] std::vector<PlacedLane> layoutFor(int width) const;
    /// Returns the lanes as they are shown: laid out once until the sheet, the selection or the width
    /// changes, since every move of the mouse asks.
    [[nodiscard]] const std::vector<PlacedLane> &placedLanes() const;
    void paintSetup(QPainter &painter, const Station &lane, const PlacedLane &placed) const;
    void addServing(RowId frame);
    void addCheck(RowId frame);
    void paintFrame(QPainter &painter, const JobFrame &frame, const QRect &rect);
    void paintDrift(QPainter &painter, const SetDrift &drift, const QRect &frame) const;
    void paintFold(QPainter &painter, const PlacedFrame &fold);
    /// What stands on a lane, in order: frames, and long runs of product frames folded but where one works.
    [[nodiscard]] std::vector<std::vector<RowId>> entriesOf(const Station &lane) const;
    void paintAnswer(QPainter &painter, const Station &lane, const QRect &rect) const;
    void paintHints(QPainter &painter, int y) const;
    bool paintSelected(QPainter &painter, int y) const; ///< false when no frame is chosen
    [[nodiscard]] RowId frameAt(const QPoint &point) const;
    void step(int by);

    JobDocument *m_job;
    Thumbnails *m_thumbnails;
    std::vector<const Station *>
        m_lanes; ///< the job's stations; valid until it changes, when refresh() is called
    struct SmallChart
    {
        Proof proof;
        ShownGrid grid;
    };
    /// Returns the proof of a chart frame for its small picture, made when it is first painted; null if it
    /// cannot be made.
    [[nodiscard]] const SmallChart *smallChart(RowId frame);
    QHash<qint64, std::shared_ptr<const SmallChart>> m_charts;
    /// What there is to say of a frame beside its answer.
    struct Note
    {
        int bracket = 0; ///< its place in a bracket, from 1; 0: in none
        bool chosen = false;
        bool startsDay = false; ///< the first of its day in its lane, where the job has several days
        QString reason, warning, drift;
        std::optional<bool> passes = {};         ///< of a check frame; `drift` says why
        std::optional<SetDrift> bySet;           ///< that `drift` says
        [[nodiscard]] QStringList words() const; ///< those that there are
    };
    QHash<qint64, Note> m_notes;
    /// Answers of check frames, by what they were made from: reading, calibration, tolerances.
    std::map<std::tuple<RowId, RowId, std::string>, Note> m_checks;
    mutable std::vector<PlacedLane> m_placed; ///< for m_placedWidth
    mutable int m_placedWidth = -1;           ///< −1: to be laid out when asked for
    mutable std::vector<Piece> m_pieces;      ///< empty: to be made when asked for
    RowId m_selected = 0;
    bool m_spansDays = false;
    bool m_isStale = false; ///< the job changed while the sheet was hidden
};

class DaySheet : public QScrollArea
{
    Q_OBJECT
public:
    DaySheet(JobDocument *job, Thumbnails *thumbnails, QWidget *parent = nullptr);
    [[nodiscard]] DayCanvas *canvas() const { return m_canvas; }

private:
    DayCanvas *m_canvas;
};

} // namespace wavechroma::app
