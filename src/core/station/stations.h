#pragma once
#include "core/formats/tolerance_sheet.h"
#include "core/jobstore/job_rows.h"
#include "core/values/station.h"

#include <compare>
#include <map>
#include <memory>
#include <unordered_map>

namespace wavechroma {

/// Returns the check of a severity that explains most of what is wrong: how far it is over its limit, and
/// three times that where it names the worst patch. Null: none.
[[nodiscard]] const Check *mainCheck(const std::vector<Check> &checks, Severity severity,
                                     const std::string &worstPatch = {});

/// The stations of a job, built once and kept up with each change. One rule says here which calibration
/// serves a frame; windows, commands and all that comes ask it. From what rows hold in brief: no document is
/// parsed.
class Stations
{
public:
    Stations() = default;
    explicit Stations(const JobState &state);
    Stations(const Stations &other); ///< shares nothing with the original
    Stations &operator=(const Stations &other);
    Stations(Stations &&) = default;
    Stations &operator=(Stations &&) = default;
    ~Stations() = default;
    /// Updates the stations after `change` was applied, which made `state`. Only the stations that it
    /// touches are made anew.
    void update(const JobState &state, const JobChange &change);

    /// Setups in order, within each its pairs in order of their first frame. A setup without frames has one
    /// station without any.
    [[nodiscard]] const std::vector<const Station *> &all() const { return m_order; }
    [[nodiscard]] const Station *of(RowId frame) const; ///< null: no such frame

    /// Returns the answer of one chart frame, by the parts in use.
    [[nodiscard]] Answer answerOf(const JobState &state, RowId frame) const;
    /// The reading that a frame is shown by; null for a flat that does not speak for its station, whatever
    /// white it shows.
    [[nodiscard]] const JobReading *readingToShow(const JobState &state, RowId frame) const;
    /// What serves a frame, and with what doubts. A chart frame that is not set aside serves itself. A
    /// calibration brought along that was chosen for the frame goes before all, with the doubts of the chart
    /// that it was made from, where the job has it.
    [[nodiscard]] Serving servingOf(const JobState &state, RowId frame) const;
    /// The calibration a frame is shown by: that of its serving chart; null when there is none.
    [[nodiscard]] const JobCalibration *calibrationFor(const JobState &state, RowId frame) const;
    /// Does the time of exposure count, by what the charts of a setup's stations show?
    [[nodiscard]] ExposureTime shownTime(RowId setup) const;
    /// Does it count under a setup's light? By the kind of lamp that was chosen, else by shownTime().
    [[nodiscard]] ExposureTime exposureTimeUnder(const JobState &state, RowId setup) const;
    /// "lamp-unknown" for a frame whose time differs from that of its chart, where nothing says whether time
    /// counts: its level beside the chart's is then a guess. Nothing where there is no such doubt.
    [[nodiscard]] std::optional<Doubt> doubtOfLevel(const JobState &state, RowId frame) const;
    /// Product frames of its station that are shot one after the other with this one, without a chart or a
    /// flat between them, in time order; empty for a frame of another part.
    [[nodiscard]] std::vector<RowId> runOf(const JobState &state, RowId frame) const;
    /// The frame to show first: the newest chart frame that is not set aside, else the newest chart, else 0.
    [[nodiscard]] RowId frameToOpen() const;

private:
    struct Key
    {
        RowId setup = 0;
        std::string pair;
        auto operator<=>(const Key &) const = default;
    };
    struct Member
    {
        Key key;
        RowId first = 0; ///< smallest id of its frames
        Station station;
    };
    [[nodiscard]] static Key keyOf(const JobFrame &frame);
    void build(const JobState &state);
    void rebuild(const JobState &state, Member &member);
    void addBracket(const JobState &state, Station &station, size_t from, size_t to) const;
    void findBrackets(const JobState &state, Station &station) const;
    void findSpeaking(const JobState &state, Station &station) const;
    [[nodiscard]] std::vector<RowId> fieldsOf(const JobState &state, const Station &station) const;
    void findShownTime(const JobState &state, Station &station) const;
    void answer(const JobState &state, Station &station) const;
    void order(const JobState &state);
    [[nodiscard]] const JobReading *readingOf(const JobState &state, RowId frame) const;
    [[nodiscard]] bool isSource(const JobFrame &frame) const; ///< a chart, or a grey that was read
    [[nodiscard]] static std::vector<RowId> candidatesOf(const Station &station);
    [[nodiscard]] std::optional<Doubt> lightMoved(const JobState &state, const Station &station, RowId chart,
                                                  const JobFrame &frame) const;
    [[nodiscard]] std::optional<SetDrift> driftBySet(const JobState &state, RowId chart,
                                                     const JobFrame &frame) const;
    [[nodiscard]] static std::optional<Doubt> otherLight(const JobState &state, RowId chart,
                                                         const std::optional<SetDrift> &drift);
    [[nodiscard]] std::optional<Doubt> ageOf(const std::string &chart, const std::string &frame) const;
    [[nodiscard]] Serving byChart(const JobState &state, const Station &station, const JobFrame &frame) const;
    [[nodiscard]] Serving byCalibration(const JobState &state, const Station &station, const JobFrame &frame,
                                        const JobCalibration &calibration) const;
    void speak(const JobState &state, const Station &station, const JobFrame &frame, Serving &serving) const;

    std::map<Key, std::shared_ptr<Member>> m_members;
    std::vector<const Station *> m_order;
    std::unordered_map<RowId, std::shared_ptr<Member>> m_ofFrame;
    std::unordered_map<RowId, RowId> m_readingOf; ///< frame → reading
    ToleranceSheet m_sheet;
    CommonParts m_common; ///< that the answers were made by
};

/// The calibration that a frame is shown by: the one brought along that serves it, else that of its serving
/// chart; a spoilt chart alone is shown by what it came to itself. Null: none.
[[nodiscard]] const JobCalibration *calibrationBy(const JobState &state, const Serving &serving, RowId frame);
/// The parts that a chart frame's answers are given by: the job's, or, where it leaves them to the readings,
/// those that serve all of its charts best (commonParts()); the ones recommended for this chart alone where
/// it does not support those, or they are much better here. Plain ones where nothing is known.
[[nodiscard]] Parts partsFor(const JobState &state, RowId frame);
/// Those that serve all charts of a frame's kind of file best.
[[nodiscard]] std::optional<Parts> commonPartsFor(const JobState &state, RowId frame);
/// The sheet in force; the ordinary one when the job's own cannot be read.
[[nodiscard]] ToleranceSheet sheetOf(const JobState &state);

} // namespace wavechroma
