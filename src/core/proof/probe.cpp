#include "core/proof/probe.h"

#include "core/base/letters.h"
#include "core/color/de2000.h"
#include "core/color/lab.h"
#include "core/color/lab_difference.h"

#include <algorithm>
#include <cctype>
#include <cmath>

namespace wavechroma {

bool FrameProbes::allRead() const
{
    return std::all_of(probes.begin(), probes.end(), [](const Probe &p) { return p.lab.has_value(); });
}

void colourOf(Probe &probe, const CameraRgb &mean, const CameraRgb &sd, const ModelBlend &models,
              double level)
{
    const auto labOf = [&](const CameraRgb &rgb) {
        return labFromXyz(xyzFromCamera(models, {level * rgb.r, level * rgb.g, level * rgb.b}));
    };
    probe.lab = labOf(mean);
    // Channels scatter apart from each other: their parts of each coordinate add up as squares.
    double l = 0, a = 0, b = 0;
    for (const auto &moved :
         {CameraRgb{mean.r + sd.r, mean.g, mean.b}, CameraRgb{mean.r, mean.g + sd.g, mean.b},
          CameraRgb{mean.r, mean.g, mean.b + sd.b}}) {
        const Lab there = labOf(moved);
        l = std::hypot(l, there.l - probe.lab->l);
        a = std::hypot(a, there.a - probe.lab->a);
        b = std::hypot(b, there.b - probe.lab->b);
    }
    probe.sd = {l, a, b};
}

void compareWith(Probe &probe, const ProbeTarget &target, double ordinary)
{
    probe.target = target;
    if (!probe.lab)
        return;
    probe.de00 = de2000(*probe.lab, target.lab);
    const auto d = lchDifference(*probe.lab, target.lab);
    probe.dL = d.dL;
    probe.dC = d.dC;
    probe.dH = d.dH;
    probe.within = probe.de00 <= target.tolerance.value_or(ordinary);
}

const ProbeTarget *targetNamed(const std::vector<ProbeTarget> &targets, const std::string &name)
{
    const auto same = [](char x, char y) { return letters::lower(x) == letters::lower(y); };
    const auto at = std::find_if(targets.begin(), targets.end(), [&](const ProbeTarget &target) {
        return std::equal(target.name.begin(), target.name.end(), name.begin(), name.end(), same);
    });
    return at == targets.end() ? nullptr : &*at;
}

} // namespace wavechroma
