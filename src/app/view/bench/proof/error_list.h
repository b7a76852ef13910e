#pragma once
#include "app/model/error_model.h"
#include "app/model/frame_editor.h"

#include <QListView>

namespace wavechroma::app {

/// Errors as lengths on one scale, the tolerance as a band behind them, worst first along the rows, with
/// their direction in words. The mouse or the arrows point at one.
class ErrorList : public QListView
{
    Q_OBJECT
public:
    explicit ErrorList(QWidget *parent = nullptr);
    void show(const Facts &facts);
    void highlight(const QString &patch);
    [[nodiscard]] const QString &highlighted() const { return m_highlighted; }
    [[nodiscard]] const ErrorModel *errors() const { return m_errors; }
    QSize sizeHint() const override;

signals:
    void patchPointed(const QString &patch);

protected:
    void resizeEvent(QResizeEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void currentChanged(const QModelIndex &current, const QModelIndex &previous) override;

private:
    [[nodiscard]] int columns() const;
    ErrorModel *m_errors;
    QString m_highlighted;
};

} // namespace wavechroma::app
