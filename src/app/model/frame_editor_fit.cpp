// How the frame on the bench is fitted, and from what.
#include "app/model/frame_editor.h"
#include "app/model/spoken.h"
#include "core/facts/merge_frames.h"
#include "core/tasks/known_things.h"
#include "core/tasks/reference_task.h"
#include "core/words/fit_words.h"

#include <algorithm>

namespace wavechroma::app {

void FrameEditor::chooseParts(const Parts &parts)
{
    auto title = m_job->state().title;
    if (title.parts == parts || m_job->isReadOnly())
        return;
    const auto before = title;
    title.parts = parts;
    JobChange change;
    change.titles.push_back({before, title});
    m_job->push(isAuto(parts) ? tr("Choose Parts Automatically")
                              : tr("Choose %1").arg(text(words::parts(parts, spoken()))),
                change);
}

/// The lean is laid over what was fitted: picture and figures follow at once, what it does on unseen patches
/// a little later.
void FrameEditor::leanColour(const ColourLean &lean)
{
    const auto *chosen = m_facts->chosen();
    if (!m_facts->reading || !chosen || chosen->lean == lean || m_job->isReadOnly() || !check(lean))
        return;
    auto asked = request();
    asked.ask.lean = lean;
    setFacts(withLean(*m_facts, lean));
    m_pictures->preview(m_facts->frame->id, *m_facts->chosen());
    fitAnewWith(asked, tr("Change Colour Lean"));
}

QString FrameEditor::weights() const
{
    const auto *chosen = m_facts->chosen();
    return chosen && !chosen->asked.weights.empty() ? text(chosen->asked.weights) : QString("even");
}

void FrameEditor::useWeights(const QString &weights)
{
    if (!m_facts->reading || !m_facts->frame)
        return;
    if (const auto known = checkWeights(weights.toStdString(), m_facts->chart); !known) {
        emit problem(text(known.error()));
        return;
    }
    auto asked = request();
    asked.ask.weights = weights.toStdString();
    fitAnewWith(asked, tr("Weight Patches"));
}

std::vector<RowId> FrameEditor::framesToMerge() const
{
    return m_facts->frame && m_facts->reading
               ? wavechroma::framesToMerge(m_job->job(), m_facts->frame->id, *m_facts->reading)
               : std::vector<RowId>();
}

bool FrameEditor::isMerged() const
{
    return m_facts->chosen() && !m_facts->chosen()->asked.with.empty();
}

void FrameEditor::mergeReadings()
{
    if (!m_facts->reading || !m_facts->frame)
        return;
    auto asked = request();
    asked.ask.with.clear();
    if (!std::exchange(asked.with, {}).empty())
        return fitAnewWith(asked, tr("Fit from This Frame Alone"));
    for (const auto id : framesToMerge())
        asked.with.push_back({*m_job->state().readingOf(id)->reading, m_job->state().frame(id)->sha256});
    if (asked.with.empty()) {
        emit problem(tr("No other chart frame here shows the same chart in the same light without a fault."));
        return;
    }
    fitAnewWith(asked, tr("Merge Readings"));
}

bool FrameEditor::hasKnownThings() const
{
    return m_facts->chosen() && !m_facts->chosen()->asked.things.empty();
}

void FrameEditor::fitKnownThings()
{
    if (!m_facts->reading || !m_facts->frame)
        return;
    auto asked = request();
    if (!std::exchange(asked.ask.things, {}).empty())
        return fitAnewWith(asked, tr("Fit without Probes"));
    asked.ask.parts = m_facts->parts;
    redo(tr("Fit with Probes"), tr("measuring the probes"),
         [reading = *m_facts->reading, id = m_facts->frame->id, job = m_job->job(),
          asked](const Progress &progress) mutable -> Result<Redoing> {
             auto things = knownThings(job, id, reading, progress);
             if (!things)
                 return things.error();
             asked.ask.things = std::move(*things);
             return Redoing{{id, passFrom(reading, asked, progress)}};
         });
}

void FrameEditor::fitUnderLight(const QString &light)
{
    if (!m_facts->reading || !m_facts->frame)
        return;
    auto asked = request();
    asked.ask.light.reset();
    asked.ask.appearance.reset();
    if (!light.isEmpty()) {
        const auto named = lightNamed(light.toStdString());
        if (!named) {
            emit problem(text(named.error()));
            return;
        }
        asked.ask.light = *named;
    }
    unlessDoubted(asked.ask.light ? refusedLight(*m_facts->reading, *asked.ask.light) : std::nullopt,
                  [this, asked] { fitAnewWith(asked, tr("Set the Light of the Fit")); });
}

void FrameEditor::useAppearance(Appearance appearance)
{
    if (!m_facts->reading || !m_facts->frame)
        return;
    auto asked = request();
    const auto &patches = m_facts->chart.patches;
    const bool hasSpectra =
        std::any_of(patches.begin(), patches.end(), [](const auto &p) { return p.reflectance.has_value(); });
    if (!asked.ask.light || !hasSpectra) {
        emit problem(
            tr("This needs a chart with spectra and a known light. Set the light of the fit first."));
        return;
    }
    asked.ask.appearance = appearance;
    fitAnewWith(asked, tr("Change Meaning of the References"));
}

} // namespace wavechroma::app
