#pragma once
#include "core/sim/expose.h"
#include "core/sim/random_scene.h"

#include <map>
#include <string>

namespace wavechroma::sim {

/// What may go wrong, or be hard, with a chart frame.
enum class Mishap {
    None,
    Fingers,
    Glare,
    Clipped,
    Dark,
    Uneven,
    Flare,
    Defocus,
    Shake,
    HighIso,
    Tilted,
    Small,
    Several,
    WrongChart,
    Barrel,
    Shadow,
    GlareBand,
    Dirt,
    NoChart
};
inline constexpr int kMishaps = 19;
[[nodiscard]] const char *nameOf(Mishap mishap);

/// A frame with a known truth: also which capture checks ought to complain of it and which must not. A check
/// that is near its limit, or that this mishap leaves open, is in neither.
struct Situation
{
    Mishap mishap = Mishap::None;
    std::string asked; ///< chart asked for by name; empty: the catalogue is searched
    SimFrame frame;
    std::vector<std::string> charts;    ///< ids, one per frame.charts
    double greyNoise = 0;               ///< relative noise of one green pixel of an 18 % grey, without flare
    std::map<std::string, bool> faults; ///< check id → ought to complain
};

/// All draws come from the seed, the mishap from `seed` modulo their number. Limits are those of the ordinary
/// sheet, with a fifth to a quarter of room either side.
[[nodiscard]] Situation randomSituation(uint64_t seed);

/// The same with a mishap, a body and a light of one's own choice.
struct Equipment
{
    Mishap mishap = Mishap::None;
    const Camera &camera;
    const Lamp &lamp;
    int width = 3000; ///< of the frame, which is 3 : 2; 6000 suits Mishap::Small
};
[[nodiscard]] Situation randomSituation(uint64_t seed, const Equipment &equipment);

} // namespace wavechroma::sim
