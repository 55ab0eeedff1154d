#pragma once
#include "bits.h"
#include <avrek/skirmish/skirmish.h>

#include <cstdint>
#include <vector>

/// State that a client predicts of its own combatant, as words that both ends have bit for bit.
namespace avrek::detail {

/// How a word changes from one moment to the next.
enum class WordKind : std::uint8_t {
    whole, ///< by a difference
    real,  ///< by some of its bits
};

struct OwnState {
    std::vector<std::uint64_t> words{};
    friend bool operator==(const OwnState&, const OwnState&) = default;
};

/// The state of somebody at the end of the last tick. Precondition (asserted): it is there.
OwnState own_state(const Skirmish& skirmish, BodyId id);
/// Writes the state of somebody into an older state, which keeps its memory. Precondition (asserted): as for
/// own_state().
void write_own_state(const Skirmish& skirmish, BodyId id, OwnState& to);

/// Puts somebody into a state, at the end of the last tick. What is no sound state is repaired where a number
/// is out of its range. Returns false, and nothing changes, when it has the wrong number of words or nobody
/// is there.
bool assume(Skirmish& skirmish, BodyId id, const OwnState& state);

/// Returns the fighter of a state; what is not sent of it keeps its defaults.
Fighter sent_fighter(const OwnState& state);

/// Returns whether two states are the same but for the motion of the body.
bool differ_in_motion_only(const OwnState& one, const OwnState& other);

/// The kinds of the words, the same for every combatant.
const std::vector<WordKind>& kinds_of_own_state();

/// Writes the words of a state that differ from another, and finishes. An empty `before` counts as zeros.
void write_change(BitWriter& to, const std::vector<WordKind>& kinds, const OwnState& before,
                  const OwnState& after);
/// Reads it again; the reader is unsound afterwards when it was none.
OwnState read_change(BitReader& from, const std::vector<WordKind>& kinds, const OwnState& before);

} // namespace avrek::detail
