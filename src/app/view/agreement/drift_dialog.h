#pragma once
#include "core/tasks/drift_task.h"

#include <QDialog>

namespace wavechroma::app {

/// The history of a station's charts as a control chart, what each later one says, and when another is due.
class DriftDialog : public QDialog
{
    Q_OBJECT
public:
    DriftDialog(const StationDrift &drift, QWidget *parent);
    [[nodiscard]] QString words() const { return m_words; }

private:
    QString m_words;
};

} // namespace wavechroma::app
