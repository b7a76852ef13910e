#pragma once
#include "core/values/job_rows.h"

#include <QString>
#include <array>

namespace wavechroma::app {

class Desk;

/// What can be done now. Each text is why something cannot be done, as a sentence; empty where it can. One
/// value, worked out once a change, so that actions need only look at it.
struct Availability
{
    QString open;                     ///< a job is open
    QString writable;                 ///< … that can be written
    QString frame;                    ///< … and a frame of it is selected
    QString onBench;                  ///< a frame is on the bench
    QString editable;                 ///< … in a job that can be written
    QString read, balanced, fitted;   ///< … and a chart was read in it, has a balance, a calibration
    QString product, productEditable; ///< a product frame is on the bench
    QString probe, proposed;          ///< … with a probe selected, with proposed ones
    QString handover;                 ///< that place is shown, in a job that can be written
    QString agreement, drawn;         ///< that place is shown; … and stations were drawn together there
    QString otherBalance;             ///< the balance is not the chart's own
    QString waiting, moved, studio;   ///< frames wait; the frame on the bench was moved; the studio is open
    QString chartRead;                ///< a chart of known layout was read in the selected frame
    QString anyChart, profiles;       ///< the job has a chart frame; the frame has a calibration
    std::array<QString, 5> otherPart; ///< by FramePart: the selected frame is not that already

    enum class Place { Start, Day, Bench, Agreement, Handover } place = Place::Start;
    bool isWatching = false, isSetAside = false, isMerged = false, hasThings = false, isStudioShown = false;
    QString monitor; ///< whose profile is used
    bool isMonitorDesktops = false, isMonitorNone = false;

    bool operator==(const Availability &) const = default;
};

[[nodiscard]] Availability availabilityOf(const Desk &desk);

} // namespace wavechroma::app
