#pragma once
#include <lcms2.h>
#include <memory>

/// What lcms2 hands out, given back when it goes out of scope. Only for files that speak to lcms2 themselves.
namespace wavechroma::icc {

struct Release
{
    void operator()(cmsToneCurve *curve) const { cmsFreeToneCurve(curve); }
    void operator()(cmsMLU *text) const { cmsMLUfree(text); }
};
struct CloseProfile
{
    void operator()(cmsHPROFILE profile) const { cmsCloseProfile(profile); }
};
struct DeleteTransform
{
    void operator()(cmsHTRANSFORM transform) const { cmsDeleteTransform(transform); }
};

using Profile = std::unique_ptr<void, CloseProfile>;
using Transform = std::unique_ptr<void, DeleteTransform>;
using Curve = std::unique_ptr<cmsToneCurve, Release>;
using Text = std::unique_ptr<cmsMLU, Release>;

} // namespace wavechroma::icc
