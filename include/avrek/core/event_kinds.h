#pragma once
#include <cstddef>
#include <span>
#include <variant>

/// Events are variants, with a type for each kind. These pick kinds out of a list of them.
namespace avrek {

/// Functions for events, by kind, for std::visit(). `[](const auto&) {}` takes every other kind.
///
///     for (const Event& event : fight.advance(intents)) {
///         std::visit(EventHandlers{[](const ShotEvent& shot) { play_sound(shot.muzzle); },
///                                  [](const DeathEvent& death) { show_death(death.who); },
///                                  [](const auto&) {}},
///                    event);
///     }
template <class... Handlers>
struct EventHandlers : Handlers... {
    using Handlers::operator()...;
};
/// Makes the functions one object: EventHandlers{[](const ShotEvent&) {}, [](const auto&) {}}.
template <class... Handlers>
EventHandlers(Handlers...) -> EventHandlers<Handlers...>;

/// Events of one kind in a list, in order: a range for a loop. See events_of().
template <class Kind, class Event>
class EventsOf {
  public:
    /// Stands at an event of the kind, or at the end.
    class Iterator {
      public:
        /// Stands at the first event of the kind from `at` on.
        Iterator(const Event* at, const Event* end) : at_(at), end_(end) { skip(); }
        const Kind& operator*() const { return *std::get_if<Kind>(at_); } ///< the event
        const Kind* operator->() const { return std::get_if<Kind>(at_); } ///< the event
        /// Goes on to the next event of the kind.
        Iterator& operator++() {
            ++at_;
            skip();
            return *this;
        }
        bool operator==(const Iterator& other) const { return at_ == other.at_; } ///< at the same place

      private:
        void skip() {
            while (at_ != end_ && !std::holds_alternative<Kind>(*at_)) {
                ++at_;
            }
        }
        const Event* at_;
        const Event* end_;
    };

    /// Refers to a list.
    explicit EventsOf(std::span<const Event> all) : all_(all) {}
    Iterator begin() const { return {all_.data(), all_.data() + all_.size()}; } ///< first of the kind
    Iterator end() const { return {all_.data() + all_.size(), all_.data() + all_.size()}; } ///< past the last

  private:
    std::span<const Event> all_;
};

/// Returns the events of one kind, in order. The list must outlive them.
///
///     for (const ShotEvent& shot : events_of<ShotEvent>(events)) { play_sound(shot.muzzle); }
template <class Kind, class Events>
auto events_of(const Events& events) {
    return EventsOf<Kind, typename Events::value_type>{events};
}

/// Returns the first event of one kind, or null. The list must outlive it.
template <class Kind, class Events>
const Kind* first_of(const Events& events) {
    const auto all = events_of<Kind>(events);
    return all.begin() == all.end() ? nullptr : &*all.begin();
}

/// Returns the number of events of one kind.
template <class Kind, class Events>
std::size_t count_of(const Events& events) {
    std::size_t count = 0;
    for ([[maybe_unused]] const Kind& event : events_of<Kind>(events)) {
        ++count;
    }
    return count;
}

} // namespace avrek
