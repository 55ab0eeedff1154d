#pragma once
#include <algorithm>
#include <cstddef>
#include <ranges>
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
template <class... Handlers>
EventHandlers(Handlers...) -> EventHandlers<Handlers...>;

/// Returns the events of one kind, in order. The list must outlive them.
///
///     for (const ShotEvent& shot : events_of<ShotEvent>(events)) { play_sound(shot.muzzle); }
template <class Kind, std::ranges::viewable_range Events>
auto events_of(Events&& events) {
    return std::views::all(std::forward<Events>(events)) |
           std::views::filter([](const auto& event) { return std::holds_alternative<Kind>(event); }) |
           std::views::transform([](const auto& event) -> const Kind& { return std::get<Kind>(event); });
}

/// Returns the first event of one kind, or null. The list must outlive it.
template <class Kind, class Events>
const Kind* first_of(const Events& events) {
    const auto found = std::find_if(std::begin(events), std::end(events), [](const auto& event) {
        return std::holds_alternative<Kind>(event);
    });
    return found != std::end(events) ? std::get_if<Kind>(&*found) : nullptr;
}

/// Returns the number of events of one kind.
template <class Kind, class Events>
std::size_t count_of(const Events& events) {
    return static_cast<std::size_t>(
        std::count_if(std::begin(events), std::end(events),
                      [](const auto& event) { return std::holds_alternative<Kind>(event); }));
}

} // namespace avrek
