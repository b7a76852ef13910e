#pragma once
#include <atomic>
#include <initializer_list>
#include <memory>
#include <utility>
#include <vector>

namespace wavechroma {

/// A vector whose copies share their elements until one of them is written to, which then gets elements of
/// its own. A copy takes no longer for thousands of elements than for one. Copies may be used in different
/// threads; one object, like any vector, in one at a time.
template <class T> class SharedVector
{
public:
    using value_type = T;
    using Vector = std::vector<T>;

    SharedVector() = default;
    SharedVector(std::initializer_list<T> elements) : m_own(std::make_shared<Vector>(elements)) {}

    [[nodiscard]] const Vector &get() const
    {
        static const Vector none;
        return m_own ? *m_own : none;
    }
    /// Returns the vector to write to. Earlier references and iterators are invalid.
    [[nodiscard]] Vector &edit()
    {
        if (!m_own || m_own.use_count() > 1)
            m_own = std::make_shared<Vector>(get());
        else
            std::atomic_thread_fence(std::memory_order_acquire); // what the last other one read comes before
        return *m_own;
    }

    [[nodiscard]] auto begin() const { return get().begin(); }
    [[nodiscard]] auto end() const { return get().end(); }
    [[nodiscard]] auto rbegin() const { return get().rbegin(); }
    [[nodiscard]] auto rend() const { return get().rend(); }
    [[nodiscard]] size_t size() const { return get().size(); }
    [[nodiscard]] bool empty() const { return get().empty(); }
    [[nodiscard]] const T &operator[](size_t i) const { return get()[i]; }
    [[nodiscard]] const T &front() const { return get().front(); }
    [[nodiscard]] const T &back() const { return get().back(); }
    void push_back(T element) { edit().push_back(std::move(element)); }

    bool operator==(const SharedVector &other) const { return m_own == other.m_own || get() == other.get(); }

private:
    std::shared_ptr<Vector> m_own;
};

} // namespace wavechroma
