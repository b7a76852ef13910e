#pragma once
#include <QWidget>

class QAction;

namespace wavechroma::app {

/// What a newcomer sees while no job is open: three ways on, each a sentence.
class StartPage : public QWidget
{
    Q_OBJECT
public:
    StartPage(QAction *demo, QAction *create, QAction *open, QWidget *parent = nullptr);
};

} // namespace wavechroma::app
