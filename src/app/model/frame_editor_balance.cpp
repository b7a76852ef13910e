// The balance of the frame on the bench.
#include "app/model/frame_editor.h"
#include "app/model/spoken.h"
#include "core/tasks/reference_task.h"
#include "core/words/balance_words.h"
#include "core/words/frame_words.h"

#include <algorithm>

namespace wavechroma::app {

void FrameEditor::takeBalance(const Result<Balance> &balance, const QString &undoText)
{
    if (!balance) {
        emit problem(text(balance.error()));
        return;
    }
    const auto *row = m_facts->frame ? m_job->state().frame(m_facts->frame->id) : nullptr;
    if (!row || m_job->isReadOnly())
        return;
    auto after = *row;
    after.balance = *balance;
    after.balance->source.image = row->path;
    JobChange change;
    if (!(after == *row))
        change.frames.push_back({*row, after});
    m_job->push(undoText, change);
    if (const auto frame = raw(); frame && frame->rendered)
        emit problem(text(words::renderedCost(costOfBalance(*frame, balance->multipliers), spoken())));
}

/// A new neutral keeps the lean that was set.
Result<Balance> FrameEditor::leanedLikeNow(const Result<Balance> &balance) const
{
    if (!balance || !m_facts->balance || m_facts->balance->lean == Lean{})
        return balance;
    return wavechroma::withLean(*balance, m_facts->balance->lean, m_facts->chosen(), fileColor());
}

void FrameEditor::balanceFromGreys(const std::vector<std::string> &patches)
{
    if (m_facts->reading)
        unlessDoubted(refusedNeutral(*m_facts->reading, m_facts->chart, patches), [this, patches] {
            takeBalance(leanedLikeNow(balanceReading(*m_facts->reading, {patches, {}})),
                        tr("Balance from %1").arg(text(words::joined(patches, ", "))));
        });
}

void FrameEditor::balanceFromLight(const Temperature &light)
{
    if (m_facts->frame)
        takeBalance(
            leanedLikeNow(balanceForLight(m_facts->frame->path, light, m_facts->chosen(), fileColor())),
            tr("Balance for a Light"));
}

void FrameEditor::balanceFromArea(const PixelPoint &from, const PixelPoint &to)
{
    const auto frame = raw();
    if (!frame)
        return;
    const auto [x, right] = std::minmax(std::clamp(from.x, 0.0, double(frame->width)),
                                        std::clamp(to.x, 0.0, double(frame->width)));
    const auto [y, low] = std::minmax(std::clamp(from.y, 0.0, double(frame->height)),
                                      std::clamp(to.y, 0.0, double(frame->height)));
    const std::array<double, 4> area{x, y, right - x, low - y};
    unlessDoubted(refusedArea(*frame, area), [this, frame, area] {
        takeBalance(leanedLikeNow(balanceFrameArea(*frame, area)), tr("Balance from an Area"));
    });
}

void FrameEditor::proposeNeutral()
{
    const auto frame = raw();
    if (!frame || m_job->isReadOnly())
        return;
    using Places = std::vector<ProposedNeutral>;
    TaskSpec spec{"neutral", tr("looking for something neutral"), true};
    spec.stillWanted = [this, frame] { return raw() == frame; };
    m_tasks->run<Places>(
        spec, [frame](const Progress &) { return Result<Places>(proposedNeutrals(*frame)); }, this,
        [this, frame](const Result<Places> &places) {
            if (!places || places->empty())
                return emit problem(tr("Nothing in this frame is plain and could be grey under a lamp."));
            const auto &best = places->front();
            takeBalance(leanedLikeNow(balanceFrameArea(*frame, best.area)), tr("Propose a Neutral"));
            emit problem(tr("%1. Look whether it is a grey.").arg(text(words::filled(best.said, spoken()))));
        });
}

void FrameEditor::balanceFromWholeFrame()
{
    const auto frame = raw();
    if (!frame)
        return;
    const auto balance = balanceWholeFrame(*frame);
    unlessDoubted(balance ? refusedWhite(*balance, frame->fileColor) : std::nullopt, [this, balance] {
        takeBalance(leanedLikeNow(balance), tr("Balance from the Whole Frame"));
    });
}

void FrameEditor::leanTo(const Lean &lean)
{
    if (m_facts->balance)
        takeBalance(wavechroma::withLean(*m_facts->balance, lean, m_facts->chosen(), fileColor()),
                    tr("Lean"));
}

void FrameEditor::leanBy(double warmer, double rosier)
{
    if (m_facts->balance)
        leanTo({std::clamp(m_facts->balance->lean.warmer + warmer, -20.0, 20.0),
                std::clamp(m_facts->balance->lean.rosier + rosier, -20.0, 20.0)});
}

void FrameEditor::dropBalance()
{
    const auto *row = m_facts->frame ? m_job->state().frame(m_facts->frame->id) : nullptr;
    if (!row || !row->balance || m_job->isReadOnly())
        return;
    auto after = *row;
    after.balance.reset();
    JobChange change;
    change.frames.push_back({*row, after});
    m_job->push(tr("Balance by the Chart"), change);
}

bool FrameEditor::keepPreset(const QString &file, const QString &name)
{
    if (!m_facts->balance || !m_facts->frame)
        return false;
    auto preset = *m_facts->balance;
    preset.preset = PresetFacts{name.toStdString(), request().ask.setup, m_facts->frame->camera,
                                fileColor().asShotNeutral};
    const auto written = saveBalance(file.toStdString(), preset);
    if (!written)
        emit problem(text(written.error()));
    return bool(written);
}

void FrameEditor::usePreset(const QString &file, const std::vector<RowId> &frames)
{
    const auto preset = loadBalance(file.toStdString());
    if (!preset || !preset->preset) {
        emit problem(preset ? tr("%1 is not a preset: it has no name and no camera.").arg(file)
                            : text(preset.error()));
        return;
    }
    JobChange change;
    QStringList said;
    int taken = 0;
    for (const auto id : frames) {
        const auto *row = m_job->state().frame(id);
        if (!row)
            continue;
        const auto verdict = verdictOn(*preset->preset, row->camera);
        if (const auto words = text(words::preset(verdict, spoken()));
            !words.isEmpty() && !said.contains(words))
            said << words;
        if (verdict.refuses())
            continue;
        if (const auto *read = m_job->state().readingOf(id); read && read->brief.found)
            if (const auto chart = chartOf(*read->reading))
                if (const auto other = refusedPreset(*preset, *read->reading, *chart)) {
                    said << text(*other);
                    continue;
                }
        ++taken;
        auto after = *row;
        after.balance = *preset;
        if (!(after == *row))
            change.frames.push_back({*row, after});
    }
    m_job->push(tr("Use Preset %1").arg(text(preset->preset->name)), change);
    said.prepend(text(words::filled("“{name}” is now the balance of {n} {n|frame|frames}.",
                                    {{"name", preset->preset->name}, {"n", double(taken)}}, spoken())));
    emit problem(said.join(' '));
}

} // namespace wavechroma::app
