#include "app/view/agreement/two_frames_dialog.h"

#include "app/model/product_editor.h"
#include "app/model/screen_profile.h"
#include "app/model/spoken.h"
#include "app/model/upright.h"
#include "app/view/widgets/look.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace wavechroma::app {

namespace {

constexpr int kLongSide = 2000, kGrip = 8;

QImage imageOf(const DisplayPicture &picture, int orientation)
{
    const QImage stored(reinterpret_cast<const uchar *>(picture.rgb.data()), picture.width, picture.height,
                        picture.width * 4, QImage::Format_RGB32);
    // a copy, because an upright picture is not turned and would lean on the pixels of another
    return stored.transformed(uprightTransform(orientation, picture.width, picture.height)).copy();
}

} // namespace

TwoPictures::TwoPictures(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Two pictures"));
    setMouseTracking(true);
}

void TwoPictures::show(int side, const QImage &picture)
{
    m_pictures[size_t(side)] = picture;
    update();
}

void TwoPictures::setSplit(bool on)
{
    m_isSplit = on;
    update();
}

QRect TwoPictures::placeOf(int side) const
{
    if (m_isSplit)
        return rect();
    const int half = width() / 2 - 3;
    return {side == 0 ? 0 : width() - half, 0, half, height()};
}

/// Pictures of other sizes fill the same place: each is scaled to fit, so that one scene by two cameras lies
/// over itself.
void TwoPictures::paint(QPainter &painter, const QImage &picture, const QRect &place) const
{
    if (picture.isNull())
        return;
    const double fit =
        m_zoom * std::min(double(place.width()) / picture.width(), double(place.height()) / picture.height());
    const QSizeF size = QSizeF(picture.size()) * fit;
    const QPointF middle = QRectF(place).center();
    const QRectF to(middle.x() - m_middle.x() * size.width(), middle.y() - m_middle.y() * size.height(),
                    size.width(), size.height());
    painter.drawImage(to, picture);
}

void TwoPictures::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    const int edge = int(std::lround(m_edge * width()));
    for (int side = 0; side < 2; ++side) {
        const auto place = placeOf(side);
        const auto shown = !m_isSplit  ? place
                           : side == 0 ? QRect(0, 0, edge, height())
                                       : QRect(edge, 0, width() - edge, height());
        painter.setClipRect(shown);
        paint(painter, m_pictures[size_t(m_isFlicked ? 1 - side : side)], place);
    }
    painter.setClipping(false);
    if (m_isSplit)
        painter.fillRect(QRect(edge - 1, 0, 2, height()), palette().color(QPalette::Base));
}

void TwoPictures::wheelEvent(QWheelEvent *event)
{
    m_zoom = std::clamp(m_zoom * std::pow(1.0015, event->angleDelta().y()), 1., 16.);
    if (m_zoom == 1)
        m_middle = {0.5, 0.5};
    update();
    event->accept();
}

void TwoPictures::mousePressEvent(QMouseEvent *event)
{
    m_from = event->position();
    m_dragsEdge = m_isSplit && std::abs(m_from.x() - m_edge * width()) < kGrip;
}

void TwoPictures::mouseMoveEvent(QMouseEvent *event)
{
    if (!(event->buttons() & Qt::LeftButton)) {
        const bool isOnEdge = m_isSplit && std::abs(event->position().x() - m_edge * width()) < kGrip;
        setCursor(isOnEdge ? Qt::SplitHCursor : Qt::ArrowCursor);
        return;
    }
    const auto by = event->position() - m_from;
    m_from = event->position();
    if (m_dragsEdge) {
        m_edge = std::clamp(m_from.x() / std::max(1, width()), 0.02, 0.98);
    } else {
        const auto place = placeOf(0);
        m_middle = {std::clamp(m_middle.x() - by.x() / (m_zoom * place.width()), 0., 1.),
                    std::clamp(m_middle.y() - by.y() / (m_zoom * place.height()), 0., 1.)};
    }
    update();
}

void TwoPictures::mouseReleaseEvent(QMouseEvent *)
{
    m_dragsEdge = false;
}

void TwoPictures::keyPressEvent(QKeyEvent *event)
{
    if (event->key() != Qt::Key_B)
        return QWidget::keyPressEvent(event);
    m_isFlicked = true;
    update();
}

void TwoPictures::keyReleaseEvent(QKeyEvent *event)
{
    if (event->key() != Qt::Key_B || event->isAutoRepeat())
        return QWidget::keyReleaseEvent(event);
    m_isFlicked = false;
    update();
}

void TwoPictures::focusOutEvent(QFocusEvent *event)
{
    m_isFlicked = false;
    QWidget::focusOutEvent(event);
    update();
}

TwoFramesDialog::TwoFramesDialog(const Job &job, RowId first, RowId second, TaskRunner *tasks,
                                 QWidget *parent)
    : QDialog(parent), m_job(job), m_tasks(tasks), m_pictures(new TwoPictures),
      m_split(new QCheckBox(tr("One over the other, with an edge to drag"))), m_message(new QLabel)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setWindowTitle(tr("Frames Side by Side"));
    resize(1240, 740);
    QStringList names;
    for (const auto *station : job.stations().all())
        for (const auto id : station->frames) {
            m_frames.push_back(id);
            names << tr("%1, %2").arg(QFileInfo(text(job.rows().frame(id)->path)).fileName(),
                                      text(station->name));
        }
    auto *head = new QGridLayout;
    for (int which = 0; which < 2; ++which) {
        auto &side = m_sides[size_t(which)];
        side.frames = new QComboBox;
        side.versions = new QComboBox;
        side.frames->setAccessibleName(which == 0 ? tr("Left frame") : tr("Right frame"));
        side.versions->setAccessibleName(which == 0 ? tr("Left colours") : tr("Right colours"));
        for (auto *box : {side.frames, side.versions}) {
            box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
            box->setMinimumContentsLength(24);
        }
        side.frames->addItems(names);
        const auto at = std::find(m_frames.begin(), m_frames.end(), which == 0 ? first : second);
        side.frames->setCurrentIndex(at == m_frames.end() ? 0 : int(at - m_frames.begin()));
        head->addWidget(side.frames, 0, which);
        head->addWidget(side.versions, 1, which);
        fillVersions(which);
        connect(side.frames, &QComboBox::currentIndexChanged, this, [this, which] {
            fillVersions(which);
            ask(which);
        });
        connect(side.versions, &QComboBox::activated, this, [this, which] { ask(which); });
    }
    auto *foot = new QHBoxLayout;
    foot->addWidget(m_split);
    m_message->setTextFormat(Qt::PlainText);
    m_message->setText(tr("Wheel: closer. B held: the other one."));
    foot->addWidget(m_message, 1);
    auto *buttons = new QDialogButtonBox;
    buttons->addButton(tr("Close"), QDialogButtonBox::RejectRole);
    foot->addWidget(buttons);
    auto *column = new QVBoxLayout(this);
    column->addLayout(head);
    column->addWidget(m_pictures, 1);
    column->addLayout(foot);
    connect(m_split, &QCheckBox::toggled, m_pictures, &TwoPictures::setSplit);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    ask(0);
    ask(1);
    m_pictures->setFocus();
}

RowId TwoFramesDialog::frameOf(int which) const
{
    const auto at = size_t(std::max(0, side(which).frames->currentIndex()));
    return at < m_frames.size() ? m_frames[at] : 0;
}

void TwoFramesDialog::fillVersions(int which)
{
    auto &side = m_sides[size_t(which)];
    const QSignalBlocker quiet(side.versions);
    side.others = otherVersions(m_job, frameOf(which));
    if (side.others.empty()) // nothing serves it
        side.others.push_back({});
    side.versions->clear();
    side.versions->addItem(tr("as delivered"));
    side.versions->addItem(tr("the file's own matrix"));
    for (const auto &other : side.others)
        side.versions->addItem(nameOf(other));
}

void TwoFramesDialog::ask(int which)
{
    const auto *row = m_job.rows().frame(frameOf(which));
    if (!row)
        return;
    const auto &side = m_sides[size_t(which)];
    const int at = side.versions->currentIndex();
    const auto way = at == 0 ? ShownWay::Served : at == 1 ? ShownWay::OwnMatrix : ShownWay::Version;
    const auto version = at > 1 ? side.others[size_t(at - 2)] : OtherVersion();
    m_tasks->run<QImage>(
        {which == 0 ? "left frame" : "right frame", tr("opening %1").arg(text(row->path)), true},
        [job = m_job, frame = *row, way, version,
         screen = ScreenProfile::current().shared()](const Progress &progress) -> Result<QImage> {
            const auto picture = pictureBy(job, frame, way, version, kLongSide, screen.get(), progress);
            return picture ? Result<QImage>(imageOf(*picture, frame.orientation)) : picture.error();
        },
        this,
        [this, which](const Result<QImage> &picture) {
            m_message->setText(picture ? tr("Wheel: closer. B held: the other one.") : text(picture.error()));
            m_sides[size_t(which)].picture = picture ? *picture : QImage();
            m_pictures->show(which, m_sides[size_t(which)].picture);
        });
}

} // namespace wavechroma::app
