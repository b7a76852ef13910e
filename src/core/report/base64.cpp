#include "core/report/base64.h"

#include <openssl/evp.h>

namespace wavechroma {

std::string base64(std::string_view bytes)
{
    std::string out(4 * ((bytes.size() + 2) / 3) + 1, '\0');
    const int length =
        EVP_EncodeBlock(reinterpret_cast<unsigned char *>(out.data()),
                        reinterpret_cast<const unsigned char *>(bytes.data()), int(bytes.size()));
    out.resize(size_t(length));
    return out;
}

} // namespace wavechroma
