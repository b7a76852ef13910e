#include "core/color/adaptation.h"

namespace wavechroma {

static constexpr Matrix3 kBradford{
    {{{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}}};
static constexpr Matrix3 kCat16{
    {{{0.401288, 0.650173, -0.051461}, {-0.250268, 1.204414, 0.045854}, {-0.002079, 0.048952, 0.953127}}}};

Matrix3 adaptation(const Xyz &from, const Xyz &to, AdaptationMethod method)
{
    const Matrix3 &cones = method == AdaptationMethod::Bradford ? kBradford : kCat16;
    const Vector3 source = cones * vectorOf(from), target = cones * vectorOf(to);
    return *inverse(cones) *
           (diagonal({target[0] / source[0], target[1] / source[1], target[2] / source[2]}) * cones);
}

} // namespace wavechroma
