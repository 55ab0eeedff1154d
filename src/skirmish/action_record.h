#pragma once
#include <avrek/skirmish/game_action.h>

#include <cstdint>
#include <optional>
#include <vector>

/// Actions as words, for replays and wires.
namespace avrek::detail {

/// Returns the fields of an action as words.
std::vector<std::uint64_t> words_of(const ActionKind& what);

/// Returns the action of a kind with these words; none if there is no such kind, or it has another number of
/// words. Its values may be out of their ranges: validate() finds that.
std::optional<ActionKind> action_of(std::size_t kind, const std::vector<std::uint64_t>& words);

} // namespace avrek::detail
