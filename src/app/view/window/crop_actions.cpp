#include "app/view/window/crop_actions.h"

#include "app/model/spoken.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "core/tasks/crop_task.h"

#include <QInputDialog>

namespace wavechroma::app {

CropActions::CropActions(Desk *desk) : ActionGroup(desk) {}

MenuRows CropActions::rows()
{
    const auto editable = needs(&Availability::productEditable);
    const auto tool = [this](FrameView::Tool which) {
        return [this, which] { m_bench->product()->view()->startTool(which); };
    };
    using enum ActionRow::Place;
    return {tr("&Crop"),
            {{"crop", tr("Draw a Crop"), "K", tr("Click two corners of what is to be delivered"), editable,
              tool(FrameView::Tool::Crop)},
             {"cropLine", tr("Turn to a Line"), "",
              tr("Click both ends of a line that is to lie level or upright"), editable,
              tool(FrameView::Tool::Line)},
             {"cropSquare", tr("Crop to a Flat Thing"), "",
              tr("Click its four corners, clockwise from the top left one; its slant and perspective are "
                 "taken out"),
              editable, tool(FrameView::Tool::Square)},
             {"cropRatio", tr("Crop to a Ratio…"), "",
              tr("Width to height, about the crop's middle; of a flat thing, its own"), editable,
              [this] { askForRatio(); }, NewGroup},
             {"cropNumbers", tr("Crop by Numbers…"), "",
              tr("Pixels of the upright picture at full size, and degrees; or four corners and a size"),
              editable, [this] { askForNumbers(); }},
             {"cropCarry", tr("Carry the Crop Over the Run"), "Shift+K",
              tr("To the frames that follow in this setup, up to one with a crop of its own; no colour goes "
                 "along"),
              editable, [this] { m_bench->product()->editor()->carryCrop(); }, NewGroup},
             {"cropNone", tr("No Crop"), "", tr("Deliver all of the frame"), editable,
              [this] { m_bench->product()->editor()->crop({}); }}}};
}

void CropActions::askForRatio()
{
    auto *dialog = question(tr("Crop to a Ratio"), tr("Width to height, as in 4:5:"));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        const auto &frame = m_bench->product()->editor()->facts()->frame;
        const auto ratio = ratioFrom(words.simplified().remove(' ').toStdString());
        if (!ratio || !frame)
            return showMessage(tr("\"%1\" is not a width to a height.").arg(words));
        m_bench->product()->editor()->crop(cropToRatio(*frame, *ratio));
    });
    dialog->open();
}

void CropActions::askForNumbers()
{
    auto *dialog = question(tr("Crop by Numbers"),
                            tr("x,y,width,height and, if it is to be turned clockwise, degrees:"));
    const auto &frame = m_bench->product()->editor()->facts()->frame;
    if (frame && frame->crop)
        dialog->setTextValue(text(cropText(*frame->crop)));
    connect(dialog, &QInputDialog::textValueSelected, this, [this](const QString &words) {
        const auto &here = m_bench->product()->editor()->facts()->frame;
        const auto crop = cropFrom(words.simplified().remove(' ').toStdString());
        if (!crop || !here || !fitsOn(*here, *crop))
            return showMessage(tr("\"%1\" is not a crop that lies within the picture.").arg(words));
        m_bench->product()->editor()->crop(crop);
    });
    dialog->open();
}

} // namespace wavechroma::app
