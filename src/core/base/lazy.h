#pragma once
#include "core/base/result.h"

#include <functional>
#include <memory>
#include <mutex>
#include <optional>

namespace wavechroma {

/// A value that is made when it is first asked for. Copies share it; asking is thread-safe. One that cannot
/// be made is a default value, and fault() says why.
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
    [[nodiscard]] const std::optional<Error> &fault() const { return get(), m_cell->fault; }
    friend bool operator==(const Lazy &a, const Lazy &b) { return a.m_cell == b.m_cell || *a == *b; }

private:
    struct Cell
    {
        std::mutex asking;
        std::function<Result<T>()> make;
        std::optional<T> value;
        std::optional<Error> fault;
    };
    explicit Lazy(std::shared_ptr<Cell> cell) : m_cell(std::move(cell)) {}
    const T &get() const
    {
        auto &cell = *m_cell;
        const std::lock_guard lock(cell.asking);
        if (cell.value)
            return *cell.value;
        auto made = cell.make();
        cell.make = nullptr;
        if (!made)
            cell.fault = made.error();
        cell.value.emplace(made ? std::move(*made) : T{});
        return *cell.value;
    }
    std::shared_ptr<Cell> m_cell;
};

} // namespace wavechroma
