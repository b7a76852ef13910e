#include "core/formats/json_fields.h"

#include "core/base/file_uri.h"
#include "core/base/letters.h"
#include "core/base/shown_text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace wavechroma::json {

Json arrayOf(const Vector3 &v)
{
    return Json::array({v[0], v[1], v[2]});
}

Json arrayOf(const Matrix3 &m)
{
    return Json::array({arrayOf(m.rows[0]), arrayOf(m.rows[1]), arrayOf(m.rows[2])});
}

Json arrayOf(const Lab &c)
{
    return Json::array({c.l, c.a, c.b});
}

Json jsonOfPaths(const std::vector<std::string> &paths)
{
    Json out = Json::array();
    for (const auto &path : paths)
        out.push_back(writtenPath(path));
    return out;
}

std::string textOf(const Json &document)
{
    return document.dump(2, ' ', false, nlohmann::json::error_handler_t::replace) + "\n";
}

Fields::Fields(const Json &object, std::string where) : m_object(&object), m_where(std::move(where))
{
    if (!object.is_object())
        throw FieldFault{unusable("{where}: is not an object", {{"where", m_where}})};
}

void Fields::fail(const char *key, words::Phrase sentence) const
{
    sentence.places.push_back({"where", m_where});
    sentence.places.push_back({"key", key});
    throw FieldFault{unusable(std::move(sentence))};
}

void Fields::fail(const char *key, const char *sentence) const
{
    fail(key, words::Phrase{sentence});
}

bool Fields::has(const char *key) const
{
    const auto at = m_object->find(key);
    return at != m_object->end() && !at->is_null();
}

const Json &Fields::raw(const char *key) const
{
    const auto at = m_object->find(key);
    if (at == m_object->end())
        fail(key, "{where}: \"{key}\" is missing");
    return *at;
}

double Fields::number(const char *key) const
{
    const auto &value = raw(key);
    if (!value.is_number())
        fail(key, "{where}: \"{key}\" is not a number");
    const double number = value.get<double>();
    if (!std::isfinite(number))
        fail(key, "{where}: \"{key}\" is not a finite number");
    return number;
}

double Fields::numberOr(const char *key, double otherwise) const
{
    return has(key) ? number(key) : otherwise;
}

int Fields::integer(const char *key) const
{
    const double value = number(key);
    if (value != std::floor(value) || std::abs(value) > 1e9)
        fail(key, "{where}: \"{key}\" is not a whole number");
    return int(value);
}

uint64_t Fields::countOr(const char *key, uint64_t otherwise) const
{
    const double value = numberOr(key, double(otherwise));
    if (value != std::floor(value) || value < 0 || value > 9007199254740991.0) // 2^53 − 1
        fail(key, "{where}: \"{key}\" is not a whole number");
    return uint64_t(value);
}

static const std::string &textIn(const Fields &fields, const char *key)
{
    const auto &value = fields.raw(key);
    if (!value.is_string())
        fields.fail(key, "{where}: \"{key}\" is not text");
    return value.get_ref<const std::string &>();
}

std::string Fields::path(const char *key) const
{
    return pathWritten(textIn(*this, key));
}

std::vector<std::string> Fields::paths(const char *key) const
{
    auto out = has(key) ? texts(key) : std::vector<std::string>();
    std::transform(out.begin(), out.end(), out.begin(), [](const auto &text) { return pathWritten(text); });
    return out;
}

std::string Fields::text(const char *key) const
{
    auto value = textIn(*this, key);
    if (!isOneLine(value))
        fail(key, "{where}: \"{key}\" holds characters that cannot be printed");
    return value;
}

std::string Fields::textOr(const char *key, const std::string &otherwise) const
{
    return has(key) ? text(key) : otherwise;
}

bool Fields::flag(const char *key) const
{
    const auto &value = raw(key);
    if (!value.is_boolean())
        fail(key, "{where}: \"{key}\" is neither true nor false");
    return value.get<bool>();
}

static std::vector<double> numbersOf(const Json &value, const Fields &fields, const char *key)
{
    if (!value.is_array())
        fields.fail(key, "{where}: \"{key}\" is not a list");
    std::vector<double> out;
    for (const auto &item : value) {
        if (!item.is_number() || !std::isfinite(item.get<double>()))
            fields.fail(key, "{where}: \"{key}\" holds something that is not a number");
        out.push_back(item.get<double>());
    }
    return out;
}

std::vector<double> Fields::anyNumbers(const char *key) const
{
    return numbersOf(raw(key), *this, key);
}

std::vector<double> Fields::numbers(const char *key, size_t count) const
{
    auto out = anyNumbers(key);
    if (out.size() != count)
        fail(key, {"{where}: \"{key}\" has {n} numbers, not {count}",
                   {{"n", double(out.size())}, {"count", double(count)}}});
    return out;
}

/// No light, response or matrix of a camera comes near; profiles cannot hold what is far beyond.
static void beLikely(const std::vector<double> &values, const Fields &fields, const char *key)
{
    for (const double v : values)
        if (std::abs(v) > 1e5)
            fields.fail(key, "{where}: \"{key}\" holds a number outside the range of any camera");
}

Vector3 Fields::vector3(const char *key) const
{
    const auto v = numbers(key, 3);
    beLikely(v, *this, key);
    return {v[0], v[1], v[2]};
}

Matrix3 Fields::matrix3(const char *key) const
{
    const auto &value = raw(key);
    if (!value.is_array() || value.size() != 3)
        fail(key, "{where}: \"{key}\" is not a list of three rows");
    Matrix3 m;
    for (size_t i = 0; i < 3; ++i) {
        const auto row = numbersOf(value[i], *this, key);
        if (row.size() != 3)
            fail(key, "{where}: \"{key}\" is not 3 by 3");
        beLikely(row, *this, key);
        std::copy(row.begin(), row.end(), m.rows[i].begin());
    }
    return m;
}

Fields Fields::object(const char *key) const
{
    return {raw(key), fmt::format("{}: {}", m_where, key)};
}

std::vector<Fields> Fields::objects(const char *key) const
{
    const auto &value = raw(key);
    if (!value.is_array())
        fail(key, "{where}: \"{key}\" is not a list");
    std::vector<Fields> out;
    for (size_t i = 0; i < value.size(); ++i)
        out.emplace_back(value[i], fmt::format("{}: {}[{}]", m_where, key, i));
    return out;
}

std::vector<std::string> Fields::texts(const char *key) const
{
    const auto &value = raw(key);
    if (!value.is_array())
        fail(key, "{where}: \"{key}\" is not a list");
    std::vector<std::string> out;
    for (const auto &item : value) {
        if (!item.is_string())
            fail(key, "{where}: \"{key}\" holds something that is not text");
        out.push_back(item.get<std::string>());
    }
    return out;
}

Result<Json> parse(const std::string &text, const std::string &name)
{
    constexpr size_t kMostBytes = 32U << 20;
    constexpr int kMostLevels = 64;
    if (text.size() > kMostBytes)
        return unusable("{file}: is larger than any document of this program ({megabytes:0} MB)",
                        {{"file", name}, {"megabytes", double(text.size()) / 1e6}});
    const auto first = text.find_first_not_of(" \t\r\n");
    if (first == text.npos || (text[first] != '{' && text[first] != '['))
        return unusable("{file}: is not JSON (line {line})", {{"file", name}, {"line", 1.0}});
    // counted before it is parsed: the parser takes as much of the stack as a text asks for
    int depth = 0, deepest = 0;
    bool isQuoted = false;
    for (size_t i = 0; i < text.size() && deepest <= kMostLevels; ++i) {
        const char c = text[i];
        if (isQuoted) {
            i += c == '\\' ? 1 : 0;
            isQuoted = c != '"';
        } else if (c == '"') {
            isQuoted = true;
        } else if (c == '[' || c == '{') {
            deepest = std::max(deepest, ++depth);
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    if (deepest > kMostLevels)
        return unusable("{file}: is nested deeper than any document of this program", {{"file", name}});
    try {
        return Json::parse(text);
    } catch (const nlohmann::json::parse_error &fault) {
        const auto end = text.begin() + ptrdiff_t(std::min(fault.byte, text.size()));
        return unusable("{file}: is not JSON (line {line})",
                        {{"file", name}, {"line", double(1 + std::count(text.begin(), end, '\n'))}});
    } catch (const nlohmann::json::exception &) {
        return unusable("{file}: is not JSON", {{"file", name}});
    }
}

static std::string schemaOf(const Json &document)
{
    if (!document.is_object())
        return {};
    const auto at = document.find("schema");
    return at != document.end() && at->is_string() ? at->get<std::string>() : std::string();
}

std::string kindOf(const Json &document)
{
    const auto schema = schemaOf(document);
    const std::string prefix = "wavechroma.";
    const auto slash = schema.find('/');
    if (schema.rfind(prefix, 0) != 0 || slash == schema.npos)
        return {};
    return schema.substr(prefix.size(), slash - prefix.size());
}

Result<Done> checkSchema(const Json &document, const std::string &kind, int newest, const std::string &name)
{
    const auto schema = schemaOf(document);
    if (kindOf(document) != kind)
        return unusable("{file}: is {what}, not a wavechroma.{kind} document",
                        {{"file", name},
                         {"what", schema.empty() ? "without a \"schema\"" : "\"" + schema + "\""},
                         {"kind", kind}});
    const std::string version = schema.substr(schema.find('/') + 1);
    if (version.empty() || version.size() > 6 ||
        !std::all_of(version.begin(), version.end(), letters::isDigit))
        return unusable("{file}: schema version \"{version}\" is not a number",
                        {{"file", name}, {"version", version}});
    if (std::stoi(version) > newest)
        return unusable("{file}: is \"{schema}\", written by a newer version of the program. This version "
                        "reads up to /{newest}",
                        {{"file", name}, {"schema", schema}, {"newest", double(newest)}});
    return Done{};
}

} // namespace wavechroma::json
