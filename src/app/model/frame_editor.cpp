#include "app/model/frame_editor.h"

#include "app/model/spoken.h"
#include "core/tasks/serve_task.h"

namespace wavechroma::app {

static const QString kBenchQueue = "bench";

FrameEditor::FrameEditor(JobDocument *job, TaskRunner *tasks, QObject *parent)
    : QObject(parent), m_job(job), m_tasks(tasks), m_pictures(new FramePictures(job, tasks, this))
{
    connect(job, &JobDocument::changed, this, [this](const JobChange &change) {
        if (concerns(change, m_job->currentFrame()))
            refresh();
    });
    connect(job, &JobDocument::currentFrameChanged, this, &FrameEditor::refresh);
    connect(job, &JobDocument::opened, this, [this] { // a frame of the job before is no frame of this one
        m_open = nullptr;
        emit pictureChanged();
    });
    connect(m_pictures, &FramePictures::ready, this, [this](const std::shared_ptr<const OpenFrame> &frame) {
        if (frame->id != m_job->currentFrame())
            return;
        m_open = frame;
        emit pictureChanged();
    });
    refresh();
}

void FrameEditor::setFacts(BenchFacts facts)
{
    m_facts = std::make_shared<const BenchFacts>(std::move(facts));
    emit factsChanged();
}

void FrameEditor::refresh()
{
    const RowId id = m_job->currentFrame();
    setFacts(benchFacts(m_job->job(), id));
    if (m_open && m_open->id == id) {
        m_pictures->ask(id); // colours it anew where its calibration or balance is another one now
        return;
    }
    m_open = nullptr;
    emit pictureChanged();
    if (id)
        m_pictures->ask(id);
}

std::shared_ptr<const RawFrame> FrameEditor::raw() const
{
    const bool isHere = m_open && m_facts->frame && m_open->id == m_facts->frame->id;
    return isHere ? m_open->frame : nullptr;
}

bool FrameEditor::canEdit() const
{
    return raw() && m_facts->reading && !m_job->isReadOnly();
}

FileColor FrameEditor::fileColor() const
{
    const auto frame = raw();
    return m_facts->reading ? m_facts->reading->fileColor : frame ? frame->fileColor : FileColor{};
}

/// The flats that the open frame was evened by.
std::vector<std::string> FrameEditor::keptFlats() const
{
    return m_facts->reading ? m_facts->reading->flats : std::vector<std::string>();
}

FitRequest FrameEditor::request() const
{
    return requestFor(m_job->state(), m_facts->frame->id);
}

void FrameEditor::unlessDoubted(const Refusal &doubt, std::function<void()> doIt)
{
    if (!doubt)
        return doIt();
    emit doubted(text(*doubt), doIt);
}

bool FrameEditor::isBusy() const
{
    return m_tasks->isBusy(kBenchQueue);
}

bool FrameEditor::canTakeBack() const
{
    return m_tasks->isAwaited(kBenchQueue) || m_job->undoStack()->canUndo();
}

void FrameEditor::takeBack()
{
    if (!m_tasks->isAwaited(kBenchQueue))
        return m_job->undoStack()->undo();
    m_tasks->stop(kBenchQueue);
    refresh(); // what was shown of it at once
}

void FrameEditor::finishWork()
{
    m_tasks->finish(kBenchQueue);
}

void FrameEditor::redo(const QString &undoText, const QString &busy, Work work)
{
    if (m_job->isReadOnly())
        return;
    m_tasks->run<Redoing>({kBenchQueue, busy, true}, std::move(work), this,
                          [this, undoText](const Result<Redoing> &done) {
                              if (!done)
                                  emit problem(text(done.error()));
                              else
                                  takeRedone(*done, undoText);
                          });
}

void FrameEditor::readWhite(RowId id)
{
    const auto *row = m_job->state().frame(id);
    if (!row)
        return;
    redo(tr("Read White"), tr("reading what says white"),
         [state = m_job->state(), file = m_job->store()->fullPath(*row),
          row = *row](const Progress &progress) -> Result<Redoing> {
             auto pass = whitePass(state, file, row, progress);
             if (!pass)
                 return pass.error();
             return Redoing{{row.id, std::move(*pass), FramePart::Grey}};
         });
}

void FrameEditor::takeRedone(const Redoing &all, const QString &undoText)
{
    JobChange whole;
    JobState state = m_job->state(); // rows get their numbers one frame after the other
    bool otherPicture = false;
    for (const auto &one : all) {
        const auto *row = state.frame(one.frame);
        if (!row)
            continue;
        if (!one.pass.fault.empty()) { // a fit that fails takes nothing away from a reading that stays
            emit problem(text(one.pass.fault));
            const auto *stored = m_job->state().readingOf(one.frame);
            if (stored && *stored->reading == one.pass.reading)
                continue;
        }
        if (!one.pass.doubt.empty())
            emit problem(text(one.pass.doubt));
        auto change = changeFor(state, one.frame, one.pass);
        const auto part =
            one.part.value_or(row->part == FramePart::Grey ? FramePart::Grey : FramePart::Chart);
        if (row->part != part && one.pass.reading.found) {
            auto after = *row;
            after.part = part;
            change.frames.push_back({*row, after});
        }
        apply(state, change);
        whole = merged(std::move(whole), change);
        const auto *before = m_job->state().readingOf(one.frame);
        if (!before || before->brief.flats != one.pass.reading.flats) { // the flat is another one now
            m_pictures->forget(one.frame);
            otherPicture = otherPicture || one.frame == m_job->currentFrame();
        }
    }
    if (whole.isEmpty())
        return refresh(); // what was shown of it at once
    m_job->push(undoText, whole);
    if (otherPicture)
        m_pictures->ask(m_job->currentFrame());
}

/// At once what one crossing says; a little later the step itself, with all of them and what they do on
/// unseen patches. Without a word in the strip: its coming and going would shift the picture under the hand.
void FrameEditor::fitAnew(const Reading &reading, const QString &undoText)
{
    auto asked = request();
    asked.ask.parts = m_facts->parts;
    asked.preview = true;
    setFacts(benchFacts(*m_facts, passFrom(reading, asked)));
    asked.preview = false;
    redo(undoText, {},
         [reading, id = m_facts->frame->id, asked](const Progress &progress) -> Result<Redoing> {
             return Redoing{{id, passFrom(reading, asked, progress)}};
         });
}

void FrameEditor::fitAnewWith(const FitRequest &asked, const QString &undoText)
{
    redo(undoText, {},
         [reading = *m_facts->reading, id = m_facts->frame->id,
          asked](const Progress &progress) -> Result<Redoing> {
             return Redoing{{id, passFrom(reading, asked, progress)}};
         });
}

} // namespace wavechroma::app
