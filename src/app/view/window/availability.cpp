#include "app/view/window/availability.h"

#include "app/model/screen_profile.h"
#include "app/view/agreement/agreement_place.h"
#include "app/view/bench/bench.h"
#include "app/view/bench/product/product_bench.h"
#include "app/view/bench/product/product_view.h"
#include "app/view/studio/studio_panel.h"
#include "app/view/window/desk.h"

#include <QCoreApplication>
#include <filesystem>
#include <system_error>

namespace wavechroma::app {

namespace {

QString said(const char *words)
{
    return QCoreApplication::translate("Availability", words);
}

/// The first reason that there is.
QString unless(const QString &before, bool isThere, const char *reason)
{
    return !before.isEmpty() ? before : isThere ? QString() : said(reason);
}

bool isMoved(const JobDocument &job)
{
    std::error_code code;
    const auto *row = job.state().frame(job.currentFrame());
    return row && !std::filesystem::exists(job.store()->fullPath(*row), code);
}

void addBench(Availability &out, const Desk &desk)
{
    const auto &job = *desk.job();
    auto *bench = desk.bench();
    const auto &facts = bench->facts();
    const bool isHere = desk.isOnBench() && job.currentFrame();
    out.onBench = isHere ? QString() : said("no frame is on the bench.");
    out.editable = out.onBench.isEmpty() ? out.writable : out.onBench;
    out.read =
        unless(out.editable, facts.reading && facts.reading->found, "no chart was read in this frame.");
    out.balanced = unless(out.editable, facts.balance.has_value(), "the frame has no balance yet.");
    out.fitted = unless(out.editable, facts.chosen() != nullptr, "the frame has no calibration.");
    out.otherBalance = unless(out.balanced, facts.balanceIsChosen, "the balance is already the chart's own.");
    out.product = unless(out.onBench, bench->isProduct(), "no product frame is on the bench.");
    out.productEditable = out.product.isEmpty() ? out.writable : out.product;
    const auto *product = bench->product();
    out.probe = unless(out.productEditable, !product->view()->picked().isEmpty(), "no probe is selected.");
    out.proposed =
        unless(out.productEditable, !product->editor()->facts()->proposed.empty(), "no probes are proposed.");
    out.isMerged = desk.editor()->isMerged();
    out.hasThings = desk.editor()->hasKnownThings();
}

void addSubject(Availability &out, const Desk &desk)
{
    const auto &state = desk.job()->state();
    const auto *frame = state.frame(desk.subject());
    out.frame = unless(out.writable, frame != nullptr, "no frame is selected.");
    for (size_t part = 0; part < out.otherPart.size(); ++part)
        out.otherPart[part] =
            unless(out.frame, frame && frame->part != FramePart(part), "the frame already is that.");
    out.isSetAside = frame && frame->setAside;
    const auto *reading = frame ? state.readingOf(frame->id) : nullptr;
    out.chartRead = unless(out.open, reading && reading->brief.found, "the selected frame has no chart.");
    out.profiles =
        unless(out.writable, state.calibrationOf(desk.subject(), partsFor(state, desk.subject())) != nullptr,
               "the frame has no calibration.");
}

void addWindow(Availability &out, const Desk &desk)
{
    out.place = !desk.job()->isOpen()  ? Availability::Place::Start
                : desk.isOnBench()     ? Availability::Place::Bench
                : desk.isAtHandover()  ? Availability::Place::Handover
                : desk.isAtAgreement() ? Availability::Place::Agreement
                                       : Availability::Place::Day;
    out.isWatching = desk.watch()->isWatching();
    out.isStudioShown = !desk.studio()->isHidden();
    const auto &monitor = ScreenProfile::current();
    out.monitor = monitor.words();
    out.isMonitorDesktops = monitor.from() == ScreenProfile::From::Desktop;
    out.isMonitorNone = monitor.from() == ScreenProfile::From::None;
}

} // namespace

Availability availabilityOf(const Desk &desk)
{
    Availability out;
    const auto &job = *desk.job();
    out.open = job.isOpen() ? QString() : said("no job is open.");
    out.writable = unless(out.open, !job.isReadOnly(), "the job is read-only here.");
    addWindow(out, desk);
    addSubject(out, desk);
    addBench(out, desk);
    out.handover = unless(out.writable, desk.isAtHandover(), "Handover is not open (F5).");
    out.agreement = unless(out.open, desk.isAtAgreement(), "Agreement is not open (F8).");
    out.drawn = unless(out.agreement, out.writable.isEmpty() && desk.agreementPlace()->canApply(),
                       "no stations were drawn together that gained by it.");
    out.waiting = unless(out.writable, !desk.intake()->waiting().isEmpty(), "no frames are waiting.");
    out.moved = unless(out.writable, job.isOpen() && isMoved(job), "the frame on the bench was not moved.");
    out.studio = unless(out.writable, out.isStudioShown, "the studio is not open (F6).");
    out.anyChart = unless(out.open, job.stations().frameToOpen() != 0, "there is no chart frame yet.");
    return out;
}

} // namespace wavechroma::app
