#pragma once
#include "core/base/camera_facts.h"
#include "core/base/result.h"
#include "core/fit/color_model.h"
#include "core/values/fitted_patch.h"
#include "core/values/parts.h"

#include <compare>
#include <optional>
#include <span>
#include <string>
#include <vector>

/// What a calibration is made of. Colour and tone are chosen apart, each from a table; a part is its file and
/// its row there. Nothing outside the tables asks for a part by its name.
namespace wavechroma {

[[nodiscard]] bool isAuto(const std::string &part);
[[nodiscard]] bool isAuto(const Parts &parts); ///< either of them

/// How the numbers of a bend stand in a document: single ones under their keys, then records of arrays.
struct NumberLayout
{
    std::vector<const char *> singles;
    const char *list = nullptr; ///< key of the records; none without
    struct Column
    {
        const char *key;
        size_t count;
    };
    std::vector<Column> columns = {}; ///< of one record
    size_t mostRecords = 0;
    [[nodiscard]] size_t recordSize() const;
};

/// How a part bends the matrix' result: the document's key, its numbers, and what they do.
struct Bending
{
    const char *key;
    NumberLayout layout;
    /// `toned`: balanced RGB behind the tone curves; `xyz`: what came out so far.
    Xyz (*apply)(std::span<const double> numbers, const BalancedRgb &toned, const Xyz &xyz);
    /// Why numbers of the right count cannot be used; empty when they can.
    words::Phrase (*faultOf)(std::span<const double> numbers);
};

/// What a fit needs to know beside its patches.
struct FitContext
{
    std::vector<std::string> neutrals; ///< ids
    FileColor fileColor;
    bool eachChannel =
        false; ///< a rendered picture, or another camera's reference: tone may differ by channel
};

/// Numbers that say how stiff a part is. Chosen once on all patches, and kept when some are left out.
using Strength = std::vector<double>;

/// One fit of one part.
struct PartFit
{
    const std::vector<FittedPatch> &patches;
    const FitContext &context;
    Strength &strength;               ///< empty: to be chosen, and left here
    const ColorModel *near = nullptr; ///< the same parts fitted to nearly the same patches, to start from
};

/// A part of colour. `standsOn` names the part that it starts from, which has been fitted with the same tone;
/// a part without one is fitted from the patches alone, with tone as shot, and tone is laid before it then.
struct ColourPart
{
    const char *name;
    const char *standsOn;
    bool freeMatrix;      ///< its matrix may follow tone curves laid before it; else it is the file's own
    double credit;        ///< how many times as much it may err on patches left out: what it does better
                          ///< between a chart's colours, measured (docs/methods.md); 1: none
    bool startsNear;      ///< makes use of PartFit::near, so that `standsOn` need not be fitted then
    const Bending *bends; ///< none: it is all in the matrix
    /// Returns nothing if the patches do not determine it. `base`: the model of `standsOn`, or a default
    /// one.
    std::optional<ColorModel> (*fit)(const PartFit &fit, const ColorModel &base);
};

/// A part of tone, laid before the matrix of a colour part fitted as shot.
struct TonePart
{
    const char *name;
    bool eachChannelOnly; ///< makes sense only where FitContext::eachChannel
    /// `base`: colour as shot. `freeMatrix`: its matrix may follow the curves. None: nothing is done.
    std::optional<ColorModel> (*fit)(const PartFit &fit, const ColorModel &base, bool freeMatrix);
};

/// Returns the colour parts from the stiffest to the freest.
[[nodiscard]] std::span<const ColourPart> colourParts();
[[nodiscard]] std::span<const TonePart> toneParts();
[[nodiscard]] const ColourPart *colourPart(const std::string &name); ///< null: not known
[[nodiscard]] const TonePart *tonePart(const std::string &name);
/// The bend of that key in documents; null: not known.
[[nodiscard]] const Bending *bendingOf(const std::string &key);

/// Known, both, "auto" included? Unusable, naming those that are known.
[[nodiscard]] Result<Done> check(const Parts &parts);

/// Every crossing that makes sense, from the stiffest to the freest.
[[nodiscard]] std::vector<Parts> crossings(bool eachChannel);
/// How far a crossing lies from the stiffest: a step of tone counts as two of colour.
[[nodiscard]] int freedomOf(const Parts &parts);
/// Does colour bend or tone curve go beyond a plain matrix?
[[nodiscard]] bool isBeyondMatrix(const Parts &parts);
/// The crossing that stands for ordinary: a matrix, tone as shot.
[[nodiscard]] const Parts &plainParts();
[[nodiscard]] const Parts &balanceAlone(); ///< the file's own matrix behind a white balance

/// Those of the patches with these ids.
[[nodiscard]] std::vector<FittedPatch> patchesNamed(const std::vector<FittedPatch> &patches,
                                                    const std::vector<std::string> &ids);

} // namespace wavechroma
