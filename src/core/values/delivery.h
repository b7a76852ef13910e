#pragma once
#include "core/base/said.h"
#include "core/values/form_colour.h"
#include "core/values/picture_crop.h"
#include "core/values/picture_settings.h"
#include "core/values/profile_settings.h"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <vector>

/// What leaves a job: the plan, and the receipts of what was written.
namespace wavechroma {

/// What a form of a delivery is.
enum class FormKind {
    Picture, ///< each frame as a finished picture
    Dng,     ///< each raw frame as a DNG with calibration and balance in it
    Profile, ///< what serves the frames, for other programs
    Balance, ///< what serves the frames, as white balance presets
    Values   ///< measured probes and patches
};
struct FormKindRow
{
    FormKind kind;
    const char *id;    ///< in documents
    const char *label; ///< to people
};
inline constexpr std::array<FormKindRow, 5> kFormKinds{{
    {FormKind::Picture, "picture", "Finished pictures"},
    {FormKind::Dng, "dng", words::said("DNG of each raw frame with calibration and white balance inside")},
    {FormKind::Profile, "profile", "Profiles and tables"},
    {FormKind::Balance, "balance", "White balance presets"},
    {FormKind::Values, "values", words::said("Measured values as tables")},
}};

/// One form that frames, or what serves them, are delivered in.
struct DeliveryForm
{
    std::string name; ///< unique in the delivery; a place of names
    FormKind kind = FormKind::Picture;
    PictureSettings picture = {};
    ProfileSettings profile = {};
    FormColour colour = {}; ///< not of values
    /// Where it goes, absolute or from the job's folder; empty: where the delivery is asked to go.
    std::string folder = {};
    std::map<std::string, PictureCrop> crops = {}; ///< of finished pictures, by the frame's kept path
    bool operator==(const DeliveryForm &) const = default;
};

struct DeliveryReceipt
{
    std::string path; ///< below the delivery's folder
    std::string form;
    std::string sha256; ///< empty in a plan
    uint64_t bytes = 0; ///< 0 in a plan
    std::string source; ///< the frame, or the chart frame of what serves; kept path
    std::string sourceSha256, calibration;
    std::vector<std::string> doubts; ///< codes
    std::string writtenAt;           ///< ISO 8601; empty in a plan
    /// Hash of all that the file was made by: form, calibration, balance, level, flats. A file whose receipt
    /// has another is made anew.
    std::string madeBy;
    /// SHA-256 of the file whose place this one is taking; only of a receipt that was written for that
    /// moment.
    std::string replaces = {};
    /// What it was made by is not what it would be made by now; said by a dry run.
    bool isStale = false;
    bool operator==(const DeliveryReceipt &) const = default;
};

/// A frame that does not leave, and the code of why: "no-chart", "no-chart-of-this-pair", "no-calibration",
/// "missing", "source-changed", and with a form "not-raw", "too-many-lights", "cannot-join",
/// "cannot-fit" (no calibration of the form's parts comes of what serves it) and "other-camera" (the form's
/// preset is of one); or
/// a file of the delivery that is not written because another one has its place, "in-the-way".
struct DeliveryLeftOut
{
    std::string path, why, form;
    bool operator==(const DeliveryLeftOut &) const = default;
};

struct Delivery
{
    std::string title;
    /// Kept paths; absent: all product frames that are not set aside.
    std::optional<std::vector<std::string>> frames;
    std::vector<std::string> without; ///< of those, kept paths that stay
    /// Documents of calibrations that profiles are made of too, beside those that serve the frames: paths,
    /// absolute or from the job's folder.
    std::vector<std::string> calibrations;
    std::vector<DeliveryForm> forms;
    /// Names with places {frame}, {form}, {setup}, {camera}, {lens}, {date}, {calibration}; a slash makes a
    /// folder. Empty: {frame}, or with several forms {form}/{frame}.
    std::string names;
    std::vector<DeliveryReceipt> receipts;
    std::vector<DeliveryLeftOut> leftOut;
    bool operator==(const Delivery &) const = default;
};

} // namespace wavechroma
