#include "core/formats/icc_saving.h"

#include "core/raw/icc_handles.h"

#include <algorithm>
#include <array>

namespace wavechroma {

namespace {

constexpr std::array<uint8_t, 12> kMadeAt{0x07, 0xEA, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0};

} // namespace

Result<Bytes> savedProfile(void *profile)
{
    cmsUInt32Number size = 0;
    if (!cmsSaveProfileToMem(profile, nullptr, &size))
        return internalError("the ICC profile could not be measured");
    Bytes out(size);
    if (!cmsSaveProfileToMem(profile, out.data(), &size))
        return internalError("the ICC profile could not be made");
    std::copy(kMadeAt.begin(), kMadeAt.end(), out.begin() + 24);
    // the ID is over the bytes as they now are
    const icc::Profile dated(cmsOpenProfileFromMem(out.data(), cmsUInt32Number(out.size())));
    std::array<uint8_t, 16> id{};
    if (!dated || !cmsMD5computeID(dated.get()))
        return internalError("the ICC profile could not be measured");
    cmsGetHeaderProfileID(dated.get(), id.data());
    std::copy(id.begin(), id.end(), out.begin() + 84);
    return out;
}

} // namespace wavechroma
