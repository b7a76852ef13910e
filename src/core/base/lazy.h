#pragma once
#include "core/base/result.h"

#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <stdexcept>

namespace wavechroma {

/// Thrown where a Lazy value that cannot be made is used without asking fault() first: an empty value in its
/// place would be measured, shown or stored as if it were one. Caught where a command or a task ends, and by
/// JobStore::apply().
struct Unreadable : std::runtime_error
{
    explicit Unreadable(const Error &why) : std::runtime_error(why.message), error(why) {}
    Error error;
};

/// A value that is made when it is first asked for. Copies share it; asking is thread-safe. Where it cannot
/// be made, fault() says why, and any use throws Unreadable.
template <class T> class Lazy
{
public:
    Lazy() : Lazy(T{}) {}
    Lazy(T value) : m_cell(std::make_shared<Cell>()) { m_cell->value.emplace(std::move(value)); }
    [[nodiscard]] static Lazy later(std::function<Result<T>()> make)
    {
        Lazy lazy(std::make_shared<Cell>());
        lazy.m_cell->make = std::move(make);
        return lazy;
    }

    const T &operator*() const { return get(); }
    const T *operator->() const { return &get(); }
    [[nodiscard]] const std::optional<Error> &fault() const { return make().fault; }
    friend bool operator==(const Lazy &a, const Lazy &b)
    {
        return a.m_cell == b.m_cell || (!a.fault() && !b.fault() && *a == *b);
    }

private:
    struct Cell
    {
        std::mutex asking;
        std::function<Result<T>()> make;
        std::optional<T> value;
        std::optional<Error> fault;
    };
    explicit Lazy(std::shared_ptr<Cell> cell) : m_cell(std::move(cell)) {}
    const Cell &make() const
    {
        auto &cell = *m_cell;
        const std::lock_guard lock(cell.asking);
        if (cell.value || cell.fault)
            return cell;
        auto made = cell.make();
        cell.make = nullptr;
        if (made)
            cell.value.emplace(std::move(*made));
        else
            cell.fault = made.error();
        return cell;
    }
    const T &get() const
    {
        const auto &cell = make();
        if (!cell.value)
            throw Unreadable(*cell.fault);
        return *cell.value;
    }
    std::shared_ptr<Cell> m_cell;
};

} // namespace wavechroma
