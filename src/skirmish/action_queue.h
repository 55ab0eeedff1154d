#pragma once
#include <avrek/core/ids.h>
#include <avrek/core/time.h>

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <tuple>
#include <vector>

namespace avrek::detail {

/// Kinds of what happens in a tick. At one moment, of one combatant, in this order.
enum class QueuedKind : std::uint8_t { flight, press, weapon, swing, game };

/// Something that is going to happen in a tick.
struct QueuedAction {
    Time at{};
    BodyId who = nobody;
    QueuedKind kind = QueuedKind::flight;
    std::uint32_t index = 0;   ///< index in the list of its kind
    std::uint32_t version = 0; ///< version of the weapon plan that it belongs to
};

/// Actions of a tick, earliest first; at one moment by combatant, kind and index.
class ActionQueue {
  public:
    void reserve(std::size_t size) { heap_.reserve(size); }
    void clear() { heap_.clear(); }
    bool empty() const { return heap_.empty(); }
    /// Returns the time of the next action, or `otherwise` without one.
    Time next_at(Time otherwise) const { return heap_.empty() ? otherwise : heap_.front().at; }
    void push(const QueuedAction& action) {
        heap_.push_back(action);
        std::push_heap(heap_.begin(), heap_.end(), runs_after);
    }
    /// Takes the next action. Precondition (asserted): there is one.
    QueuedAction pop() {
        std::pop_heap(heap_.begin(), heap_.end(), runs_after);
        const QueuedAction next = heap_.back();
        heap_.pop_back();
        return next;
    }

  private:
    static bool runs_after(const QueuedAction& one, const QueuedAction& other) {
        return std::tie(one.at, one.who, one.kind, one.index) >
               std::tie(other.at, other.who, other.kind, other.index);
    }

    std::vector<QueuedAction> heap_;
};

} // namespace avrek::detail
