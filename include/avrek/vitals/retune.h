#pragma once
#include <avrek/arsenal/match_spec.h>
#include <avrek/vitals/vitals.h>

#include <span>
#include <vector>

/// Bodies in use get new values.
///
///     BodySpec tougher = crew;
///     tougher.health = 150;
///     retune({arsenal.conditions, crew}, {arsenal.conditions, tougher}, vitals, {}, events);
namespace avrek {

/// The values that a body's vitals go by.
struct LivingSpecs {
    std::span<const ConditionSpec> conditions{};
    const BodySpec& body;
};

/// Takes the vitals of a body from the values `was` to the values `is`, at `vitals.now`. What has not changed
/// in the values does not change in the state.
///
/// - Health keeps its share of the maximum, or its points up to the new maximum, by `rule`. Nobody dies of
///   it.
/// - Defence layers go by their names, and their points by the same rule. The points of one that is gone are
///   lost; one that is new has those of the start of a life.
/// - Conditions keep their shares of the time and of the period. One that has become instant, or to which the
///   body has become immune, ends; so does the count above its new maximum.
/// - A reaction goes by its name and keeps its share of the time. One that is gone or lasts no time ends. A
///   fall that the game caused goes on.
/// - Stamina, a broken guard and the window of a perfect one keep their shares. A body that gets a guard has
///   all of its stamina; one that has none any more lowers it.
///
/// Appends what ended, then a RetunedEvent if anything changed. Preconditions (asserted): conditions keep
/// their places; validate() finds no error in both.
void retune(const LivingSpecs& was, const LivingSpecs& is, Vitals& vitals, RetunedHealth rule,
            std::vector<VitalsEvent>& events);

} // namespace avrek
