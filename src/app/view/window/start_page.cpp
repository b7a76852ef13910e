#include "app/view/window/start_page.h"

#include "app/view/widgets/look.h"

#include <QAction>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

namespace wavechroma::app {

StartPage::StartPage(QAction *demo, QAction *create, QAction *open, QWidget *parent) : QWidget(parent)
{
    auto *grid = new QGridLayout(this);
    grid->setContentsMargins(80, 70, 80, 60);
    grid->setHorizontalSpacing(28);
    grid->setVerticalSpacing(18);
    auto *head = new QLabel(tr("The same object, the same colour, whatever the light."));
    head->setFont(face(30, 700));
    head->setWordWrap(true);
    grid->addWidget(head, 0, 0, 1, 2);
    auto *lead = new QLabel(tr("Shoot a colour chart under each lighting setup. Within seconds you see "
                               "whether the frame is good and how accurate this camera is."));
    lead->setFont(face(kAnswer));
    lead->setWordWrap(true);
    grid->addWidget(lead, 1, 0, 1, 2);
    grid->setRowMinimumHeight(2, 20);
    const struct
    {
        QAction *action;
        QString words;
    } ways[] = {{demo, tr("A day at a dye house with its raw frames, made by the simulated studio. Takes "
                          "about a minute and 100 MB.")},
                {create, tr("Make a folder for a client or a shoot, then drop raw files on the window.")},
                {open, tr("Open a folder that holds a job.")}};
    int row = 3;
    for (const auto &way : ways) {
        auto *button = new QPushButton(way.action->text());
        button->setToolTip(way.action->toolTip());
        button->setFont(face(kAnswer, 600));
        button->setMinimumSize(210, 44);
        connect(button, &QPushButton::clicked, way.action, &QAction::trigger);
        auto *words =
            new QLabel(way.words + "  " + way.action->shortcut().toString(QKeySequence::NativeText));
        words->setWordWrap(true);
        grid->addWidget(button, row, 0);
        grid->addWidget(words, row++, 1);
    }
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(row, 1);
}

} // namespace wavechroma::app
