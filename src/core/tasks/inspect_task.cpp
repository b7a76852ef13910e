#include "core/tasks/inspect_task.h"

#include "core/formats/whole_file.h"

namespace wavechroma {

Result<Done> saveDocument(const std::filesystem::path &file, const std::string &document)
{
    return writeWhole({{file, bytesOf(document)}});
}

} // namespace wavechroma
