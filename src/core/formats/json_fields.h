#pragma once
#include "core/base/matrix3.h"
#include "core/base/result.h"
#include "core/color/colors.h"

#include <cstdint>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

/// What the JSON documents of this folder share; not for other folders.
namespace wavechroma::json {

using Json = nlohmann::ordered_json;

[[nodiscard]] Json arrayOf(const Vector3 &v);
[[nodiscard]] Json arrayOf(const Matrix3 &m);
[[nodiscard]] Json arrayOf(const Lab &c);
[[nodiscard]] Json jsonOfPaths(const std::vector<std::string> &paths); ///< see file_uri.h
/// Two-space indented text with a newline at its end; text that is not UTF-8 is mended rather than refused.
[[nodiscard]] std::string textOf(const Json &document);

/// An object being read. Each getter names the field in what it throws; readDocument() turns that into an
/// Error.
class Fields
{
public:
    Fields(const Json &object, std::string where);

    [[nodiscard]] bool has(const char *key) const;
    [[nodiscard]] double number(const char *key) const; ///< finite
    [[nodiscard]] double numberOr(const char *key, double otherwise) const;
    [[nodiscard]] int integer(const char *key) const;
    [[nodiscard]] uint64_t countOr(const char *key, uint64_t otherwise) const; ///< below 2^53
    [[nodiscard]] std::string text(const char *key) const;                     ///< without control characters
    [[nodiscard]] std::string path(const char *key) const; ///< which may have any; see file_uri.h
    [[nodiscard]] std::vector<std::string>
    paths(const char *key) const; ///< none where the field is not there
    [[nodiscard]] std::string textOr(const char *key, const std::string &otherwise) const;
    [[nodiscard]] bool flag(const char *key) const;
    [[nodiscard]] std::vector<double> numbers(const char *key, size_t count) const; ///< exactly so many
    [[nodiscard]] std::vector<double> anyNumbers(const char *key) const;
    [[nodiscard]] Vector3 vector3(const char *key) const; ///< of light or of a camera: within ±100 000
    [[nodiscard]] Matrix3 matrix3(const char *key) const; ///< likewise
    [[nodiscard]] Fields object(const char *key) const;
    [[nodiscard]] std::vector<Fields> objects(const char *key) const;
    [[nodiscard]] std::vector<std::string> texts(const char *key) const;
    [[nodiscard]] const Json &raw(const char *key) const;
    [[nodiscard]] const std::string &where() const { return m_where; }
    /// Throws the sentence, whose places {where} and {key} are filled here: "{where}: \"{key}\" is empty".
    [[noreturn]] void fail(const char *key, words::Phrase sentence) const;
    [[noreturn]] void fail(const char *key, const char *sentence) const;

private:
    const Json *m_object;
    std::string m_where;
};

struct FieldFault
{
    Error error;
};

/// Parses text as JSON; the message gives the line of a syntax error.
[[nodiscard]] Result<Json> parse(const std::string &text, const std::string &name);
/// "wavechroma.reading/1" of this very kind and a version we know?
[[nodiscard]] Result<Done> checkSchema(const Json &document, const std::string &kind, int newest,
                                       const std::string &name);
/// "reading" of "wavechroma.reading/1"; empty when there is none.
[[nodiscard]] std::string kindOf(const Json &document);

template <class T, class Read>
Result<T> readDocument(const Json &document, const std::string &kind, const std::string &name, Read &&read)
{
    if (const auto schema = checkSchema(document, kind, 1, name); !schema)
        return schema.error();
    try {
        return read(Fields(document, name));
    } catch (const FieldFault &fault) {
        return fault.error;
    } catch (const nlohmann::json::exception &fault) {
        return unusable("{file}: {why}", {{"file", name}, {"why", fault.what()}});
    }
}

} // namespace wavechroma::json
