#include "app/view/bench.h"

#include "app/view/read_stop.h"
#include "core/capture/compare_frames.h"
#include "core/fit/weights.h"
#include "core/formats/documents.h"
#include "core/formats/whole_file.h"
#include "core/render/rendered_cost.h"

#include <algorithm>
#include <cmath>

namespace wavechroma::app {

static QString text(const std::string &s)
{
    return QString::fromStdString(s);
}

void Bench::takeBalance(const Result<Balance> &balance, const QString &undoText)
{
    if (!balance) {
        emit problem(text(balance.error().message));
        return;
    }
    const auto *row = m_facts.frame ? m_job->state().frame(m_facts.frame->id) : nullptr;
    if (!row || m_job->isReadOnly())
        return;
    auto after = *row;
    after.balance = *balance;
    after.balance->source.image = row->path;
    JobChange change;
    if (!(after == *row))
        change.frames.push_back({*row, after});
    m_job->push(undoText, change);
    if (const auto frame = m_read->view()->frame();
        frame && frame->frame && frame->frame->rendered && frame->id == row->id)
        emit problem(text(costOfBalance(*frame->frame, balance->multipliers).words));
}

/// A new neutral keeps the lean that was set.
static Result<Balance> leanedLike(const Result<Balance> &balance, const BenchFacts &facts)
{
    if (!balance || !facts.balance || facts.balance->lean == Lean{})
        return balance;
    return withLean(*balance, facts.balance->lean, facts.chosen(),
                    facts.reading ? facts.reading->fileColor : FileColor{});
}

void Bench::balanceFromGreys(const std::vector<std::string> &patches)
{
    if (!m_facts.reading)
        return;
    QStringList names;
    for (const auto &id : patches)
        names << text(id);
    takeBalance(leanedLike(balanceReading(*m_facts.reading, {patches, {}}), m_facts),
                tr("Balance from %1").arg(names.join(", ")));
}

void Bench::balanceFromLight(const Temperature &light)
{
    if (!m_facts.frame)
        return;
    const auto frame = m_read->view()->frame();
    const FileColor file = m_facts.reading         ? m_facts.reading->fileColor
                           : frame && frame->frame ? frame->frame->fileColor
                                                   : FileColor{};
    takeBalance(leanedLike(balanceForLight(m_facts.frame->path, light, m_facts.chosen(), file), m_facts),
                tr("Balance for a Light"));
}

void Bench::balanceFromArea(const PixelPoint &from, const PixelPoint &to)
{
    const auto frame = m_read->view()->frame();
    if (!frame || !frame->frame)
        return;
    const double x = std::clamp(std::min(from.x, to.x), 0.0, double(frame->frame->width)),
                 y = std::clamp(std::min(from.y, to.y), 0.0, double(frame->frame->height));
    const double right = std::clamp(std::max(from.x, to.x), 0.0, double(frame->frame->width)),
                 low = std::clamp(std::max(from.y, to.y), 0.0, double(frame->frame->height));
    takeBalance(leanedLike(balanceFrameArea(*frame->frame, {x, y, right - x, low - y}), m_facts),
                tr("Balance from an Area"));
}

void Bench::balanceFromWholeFrame()
{
    const auto frame = m_read->view()->frame();
    if (frame && frame->frame)
        takeBalance(leanedLike(balanceWholeFrame(*frame->frame), m_facts),
                    tr("Balance from the Whole Frame"));
}

void Bench::leanTo(const Lean &lean)
{
    if (!m_facts.balance)
        return;
    takeBalance(withLean(*m_facts.balance, lean, m_facts.chosen(),
                         m_facts.reading ? m_facts.reading->fileColor : FileColor{}),
                tr("Lean"));
}

void Bench::leanBy(double warmer, double rosier)
{
    if (m_facts.balance)
        leanTo({std::clamp(m_facts.balance->lean.warmer + warmer, -20.0, 20.0),
                std::clamp(m_facts.balance->lean.rosier + rosier, -20.0, 20.0)});
}

void Bench::dropBalance()
{
    const auto *row = m_facts.frame ? m_job->state().frame(m_facts.frame->id) : nullptr;
    if (!row || !row->balance || m_job->isReadOnly())
        return;
    auto after = *row;
    after.balance.reset();
    JobChange change;
    change.frames.push_back({*row, after});
    m_job->push(tr("Balance by the Chart"), change);
}

bool Bench::keepPreset(const QString &file, const QString &name)
{
    if (!m_facts.balance || !m_facts.frame)
        return false;
    auto preset = *m_facts.balance;
    const auto request = requestFor(*m_facts.frame);
    preset.preset = PresetFacts{name.toStdString(), request.setup, m_facts.frame->camera};
    const auto written = writeWhole({{file.toStdString(), bytesOf(documentOf(preset))}});
    if (!written)
        emit problem(text(written.error().message));
    return bool(written);
}

void Bench::usePreset(const QString &file, const std::vector<RowId> &frames)
{
    const auto document = readText(file.toStdString());
    const auto preset =
        document ? balanceFrom(*document, file.toStdString()) : Result<Balance>(document.error());
    if (!preset || !preset->preset) {
        emit problem(preset ? tr("%1 has no name and no camera, so it is no preset.").arg(file)
                            : text(preset.error().message));
        return;
    }
    JobChange change;
    QStringList words;
    int refused = 0;
    for (const auto id : frames) {
        const auto *row = m_job->state().frame(id);
        if (!row)
            continue;
        const auto verdict = verdictOn(*preset->preset, row->camera);
        for (const auto &said : {verdict.refusal, verdict.warning})
            if (!said.empty() && !words.contains(text(said)))
                words << text(said);
        if (!verdict.refusal.empty()) {
            ++refused;
            continue;
        }
        auto after = *row;
        after.balance = *preset;
        if (!(after == *row))
            change.frames.push_back({*row, after});
    }
    m_job->push(tr("Use Preset %1").arg(text(preset->preset->name)), change);
    const int taken = int(frames.size()) - refused;
    emit problem(
        tr("“%1” is the balance of %n frame(s) now.", nullptr, taken).arg(text(preset->preset->name)) +
        (words.isEmpty() ? QString() : " " + words.join(" ")));
}

void Bench::useCharacter(Character character)
{
    if (!m_facts.reading || !m_facts.frame)
        return;
    auto request = requestFor(*m_facts.frame);
    if (request.character == character)
        return;
    request.character = character;
    fitAnewWith(request, tr("Change the Character"));
}

void Bench::useWeights(const QString &weights)
{
    if (!m_facts.reading || !m_facts.frame)
        return;
    const auto known = weightsFrom(weights.toStdString(), m_facts.chart);
    if (!known) {
        emit problem(text(known.error().message));
        return;
    }
    auto request = requestFor(*m_facts.frame);
    request.weights = weights.toStdString();
    fitAnewWith(request, tr("Weigh the Patches"));
}

void Bench::fitAnewWith(const FitRequest &request, const QString &undoText)
{
    redo(undoText, {}, [reading = *m_facts.reading, id = m_facts.frame->id, request]() -> Redoing {
        return std::vector{Redone{id, passFrom(reading, request)}};
    });
}

/// Burnt or dark patches of one exposure are what the others are merged in for.
static bool isFaulty(const Reading &reading)
{
    return std::any_of(reading.checks.begin(), reading.checks.end(), [](const Check &c) {
        return c.severity == Severity::Stop && c.id != "clipping" && c.id != "exposure" &&
               c.id != "underexposure";
    });
}

std::vector<RowId> Bench::framesToMerge() const
{
    std::vector<RowId> out;
    if (!m_facts.frame || !m_facts.reading || !m_facts.reading->found)
        return out;
    for (const auto &lane : lanesOf(m_job->state())) {
        const auto at = std::find_if(lane.frames.begin(), lane.frames.end(),
                                     [&](const auto *f) { return f->id == m_facts.frame->id; });
        if (at == lane.frames.end())
            continue;
        const auto isChart = [](const auto *f) { return f->part == FramePart::Chart; };
        const auto end = std::find_if_not(at, lane.frames.end(), isChart);
        const auto begin = std::find_if_not(std::reverse_iterator(at), lane.frames.rend(), isChart).base();
        for (auto each = begin; each != end; ++each) {
            const auto *row = each == at ? nullptr : m_job->state().readingOf((*each)->id);
            if (!row || !row->reading.found || row->reading.chart != m_facts.reading->chart ||
                isFaulty(row->reading))
                continue;
            const auto change = lightChange(*m_facts.reading, row->reading);
            if (change && wordsFor(*change).empty())
                out.push_back((*each)->id);
        }
    }
    return out;
}

void Bench::mergeReadings()
{
    if (!m_facts.reading || !m_facts.frame)
        return;
    auto request = requestFor(*m_facts.frame);
    if (!std::exchange(request.with, {}).empty())
        return fitAnewWith(request, tr("Fit from This Frame Alone"));
    for (const auto id : framesToMerge())
        request.with.push_back({m_job->state().readingOf(id)->reading, m_job->state().frame(id)->sha256});
    if (request.with.empty()) {
        emit problem(
            tr("No chart frame beside this one shows the same chart in the same light without a fault."));
        return;
    }
    fitAnewWith(request, tr("Merge Readings"));
}

void Bench::fitUnderLight(const QString &light)
{
    if (!m_facts.reading || !m_facts.frame)
        return;
    auto request = requestFor(*m_facts.frame);
    request.told.reset();
    request.appearance.reset();
    if (!light.isEmpty()) {
        const auto named = lightNamed(light.toStdString());
        if (!named) {
            emit problem(text(named.error().message));
            return;
        }
        request.told = *named;
    }
    fitAnewWith(request, tr("Tell the Light"));
}

void Bench::useAppearance(Appearance appearance)
{
    if (!m_facts.reading || !m_facts.frame)
        return;
    auto request = requestFor(*m_facts.frame);
    const bool hasSpectra = std::any_of(m_facts.chart.patches.begin(), m_facts.chart.patches.end(),
                                        [](const auto &p) { return p.reflectance.has_value(); });
    if (!request.told || !hasSpectra) {
        emit problem(tr("That takes a chart with spectra and a light that was told (Ctrl+Alt+T)."));
        return;
    }
    request.appearance = appearance;
    fitAnewWith(request, tr("Choose What the References Mean"));
}

} // namespace wavechroma::app
