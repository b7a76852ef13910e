#include "core/render/screen.h"

#include "core/color/rgb_space.h"
#include "core/raw/icc_handles.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <fstream>
#include <system_error>
#include <vector>

namespace wavechroma {

namespace {

constexpr std::uintmax_t kMostBytes = 32U << 20;

std::string descriptionOf(cmsHPROFILE profile)
{
    const auto size = cmsGetProfileInfoASCII(profile, cmsInfoDescription, "en", "US", nullptr, 0);
    std::string out(size, '\0');
    cmsGetProfileInfoASCII(profile, cmsInfoDescription, "en", "US", out.data(), size);
    out.erase(std::find(out.begin(), out.end(), '\0'), out.end());
    return out;
}

} // namespace

Result<std::shared_ptr<const Screen>> Screen::from(const std::filesystem::path &file)
{
    const auto fail = [&](const char *why) {
        return unusable("{file}: {why}", {{"file", file.string()}, {"why", words::Phrase{why}}});
    };
    std::error_code code;
    if (!std::filesystem::is_regular_file(file, code))
        return fail("is not a file");
    if (const auto size = std::filesystem::file_size(file, code); code || size > kMostBytes)
        return fail("is too large for a profile");
    std::ifstream in(file, std::ios::binary);
    const std::vector<char> bytes{std::istreambuf_iterator<char>(in), {}};
    const icc::Profile monitor(cmsOpenProfileFromMem(bytes.data(), cmsUInt32Number(bytes.size())));
    if (!monitor)
        return fail("is not an ICC profile");
    if (cmsGetColorSpace(monitor.get()) != cmsSigRgbData ||
        !cmsIsIntentSupported(monitor.get(), INTENT_RELATIVE_COLORIMETRIC, LCMS_USED_AS_OUTPUT))
        return fail("is not a monitor profile");
    const icc::Profile xyz(cmsCreateXYZProfile());
    auto *transform =
        cmsCreateTransform(xyz.get(), TYPE_XYZ_DBL, monitor.get(), TYPE_RGB_FLT, INTENT_RELATIVE_COLORIMETRIC,
                           cmsFLAGS_NOCACHE | cmsFLAGS_NOOPTIMIZE);
    if (!transform)
        return fail("is a profile that cannot show colours");
    auto out = std::shared_ptr<Screen>(new Screen);
    out->m_name = descriptionOf(monitor.get());
    if (out->m_name.empty())
        out->m_name = file.filename().string();
    out->m_transform = std::shared_ptr<void>(transform, [](void *t) { cmsDeleteTransform(t); });
    return std::shared_ptr<const Screen>(out);
}

void Screen::codesOf(const Xyz *colors, float *codes, size_t n) const
{
    std::vector<cmsCIEXYZ> in;
    in.reserve(n);
    for (size_t i = 0; i < n; ++i)
        in.push_back({colors[i].x, colors[i].y, colors[i].z});
    cmsDoTransform(m_transform.get(), in.data(), codes, cmsUInt32Number(n));
    for (size_t i = 0; i < 3 * n; ++i)
        codes[i] = std::clamp(codes[i], 0.0F, 1.0F);
}

uint32_t Screen::shown(uint32_t pixel) const
{
    const auto channel = [&](int shift) {
        return linearised(Transfer::Srgb, double(pixel >> shift & 255) / 255);
    };
    const Xyz color = xyzOf(xyzD50FromRgbMatrix(srgb()) * Vector3{channel(16), channel(8), channel(0)});
    float codes[3];
    codesOf(&color, codes, 1);
    const auto byte = [&](int i) { return uint32_t(std::lround(codes[i] * 255)); };
    return 0xFF000000U | byte(0) << 16 | byte(1) << 8 | byte(2);
}

} // namespace wavechroma
