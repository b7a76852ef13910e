#pragma once
#include <cstdint>
#include <string>
#include <vector>

/// What leaves a job: the plan, and the receipts of what was written.
namespace wavechroma {

/// One form that frames, or what serves them, leave in.
struct DeliveryForm
{
    std::string name; ///< unique in the delivery; a place of names
    /// "picture"; "dng": a copy of the raw file with calibration and balance in it; "profile": what serves
    /// the frames, for other programs; "balance": as presets; "values": measured probes and patches.
    std::string kind = "picture";
    // of pictures
    std::string format = "tiff16", space = "srgb", level = "as-shot";
    int longSide = 0;         ///< 0: every pixel
    double pixelsPerInch = 0; ///< 0: by the serving chart's scale
    int quality = 95;         ///< of JPEG
    bool deflate = false;     ///< TIFF
    bool sharpen = false;     ///< by what the serving chart's focus check measured
    bool calmColour = false, straighten = false;
    std::vector<std::string> files = {}; ///< of a profile: "dcp", "icc", "cube"; none: the first two
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
    bool operator==(const DeliveryReceipt &) const = default;
};

/// A frame that does not leave, and the code of why: "no-chart", "no-chart-of-this-pair", "no-calibration",
/// "missing", "source-changed", and with a form "not-dng"; or a file of the delivery that is not written
/// because another one has its place, "in-the-way".
struct DeliveryLeftOut
{
    std::string path, why, form;
    bool operator==(const DeliveryLeftOut &) const = default;
};

struct Delivery
{
    std::string title;
    std::vector<std::string> frames;  ///< kept paths; empty: all product frames that are not set aside
    std::vector<std::string> without; ///< of those, kept paths that stay
    std::vector<DeliveryForm> forms;
    /// Names with places {frame}, {form}, {setup}, {camera}, {lens}, {date}, {calibration}; a slash makes a
    /// folder. Empty: {frame}, or with several forms {form}/{frame}.
    std::string names;
    std::vector<DeliveryReceipt> receipts;
    std::vector<DeliveryLeftOut> leftOut;
    bool operator==(const Delivery &) const = default;
};

} // namespace wavechroma
