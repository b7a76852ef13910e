#pragma once
#include "core/base/phrase.h"

#include <string>
#include <utility>
#include <variant>

namespace wavechroma {

/// Why something could not be done. A frame without a chart is not a fault: it is a reading that says so.
enum class Fault {
    Internal, ///< our own mistake; exit status 1
    Unusable  ///< the call or a file cannot be used; exit status 2
};

struct Error
{
    Fault fault = Fault::Unusable;
    std::string message;       ///< names the file and the reason: "frame_012.dng: ends after 3 of 24 MB"
    words::Phrase phrase = {}; ///< what `message` was filled from, for the window to fill in its language
};

/// A sentence as it stands, or a template with its places: {"{file}: ends after {n} of {all} MB", {…}}.
[[nodiscard]] Error unusable(words::Phrase why);
[[nodiscard]] Error internalError(words::Phrase why);
[[nodiscard]] inline Error unusable(std::string text, words::Places places = {})
{
    return unusable(words::Phrase{std::move(text), std::move(places)});
}
[[nodiscard]] inline Error internalError(std::string text, words::Places places = {})
{
    return internalError(words::Phrase{std::move(text), std::move(places)});
}

/// The value of operations whose only answer is that they worked.
struct Done
{
};

/// Either a value or the reason why there is none. Never both, never neither.
template <class T> class [[nodiscard]] Result
{
public:
    Result(T value) : m_state(std::move(value)) {}
    Result(Error error) : m_state(std::move(error)) {}

    explicit operator bool() const { return std::holds_alternative<T>(m_state); }
    T &operator*() & { return std::get<T>(m_state); }
    const T &operator*() const & { return std::get<T>(m_state); }
    T operator*() && { return std::move(std::get<T>(m_state)); } ///< of a passing result: not copied
    T *operator->() { return &std::get<T>(m_state); }
    const T *operator->() const { return &std::get<T>(m_state); }
    [[nodiscard]] const Error &error() const { return std::get<Error>(m_state); }

    /// The next step with the value, or the reason why it never came to that. `next` gives a Result.
    template <class Next>
    [[nodiscard]] auto andThen(Next &&next) const -> decltype(next(std::declval<const T &>()))
    {
        if (!*this)
            return error();
        return std::forward<Next>(next)(**this);
    }

private:
    std::variant<T, Error> m_state;
};

} // namespace wavechroma
