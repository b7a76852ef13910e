#pragma once
#include <QListView>
#include <QStringListModel>
#include <functional>

namespace wavechroma::app {

/// A list whose rows are drawn by its owner and read aloud as sentences. A click or Space picks a row; the
/// arrows move the marked row, and pick it at once where `stepping` is on.
class PaintedList : public QListView
{
    Q_OBJECT
public:
    using PaintRow = std::function<void(QPainter &painter, const QRect &area, int row)>;
    PaintedList(const QString &name, PaintRow paint, QWidget *parent);
    void show(const QStringList &sentences, int marked); ///< −1: none is marked
    void setCell(const QSize &size);
    /// Rows of heights of their own, by the width and the row.
    void setRowHeight(std::function<int(int width, int row)> height);
    [[nodiscard]] QSize rowSize(int row) const;
    void setStepping(bool on) { m_steps = on; }
    [[nodiscard]] QRect cell(int row) const; ///< in the viewport

signals:
    void picked(int row, Qt::KeyboardModifiers with);

protected:
    void mousePressEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    QStringListModel m_rows;
    std::function<int(int, int)> m_height; ///< empty: the cell's
    bool m_steps = false;
};

} // namespace wavechroma::app
