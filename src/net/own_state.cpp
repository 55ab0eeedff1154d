#include "own_state.h"

#include "../core/field_words.h"
#include "own_state_repair.h"
#include <avrek/core/state_fields.h>

#include <bit>
#include <cassert>
#include <utility>

namespace avrek::detail {

namespace {

template <class Words>
class OwnWords : public FieldWords<Words> {
  public:
    using FieldWords<Words>::FieldWords;
    using FieldWords<Words>::leaf;
    void leaf(const char*, IgnoredBodies&) {} // never sent
};

// Writes the words into room that has the right size.
struct Filling {
    std::uint64_t* next;

    bool flag(bool value, unsigned bit) {
        if (bit == 0) {
            *next++ = 0;
        }
        next[-1] |= std::uint64_t{value} << bit;
        return value;
    }
    std::int64_t whole(std::int64_t value) {
        *next++ = static_cast<std::uint64_t>(value);
        return value;
    }
    void real(double value) { *next++ = std::bit_cast<std::uint64_t>(value); }
    void real(float value) { *next++ = std::bit_cast<std::uint32_t>(value); }
};

// Only says of what kind each word is.
struct Telling {
    std::vector<WordKind> kinds{};

    bool flag(bool value, unsigned bit) {
        if (bit == 0) {
            kinds.push_back(WordKind::whole);
        }
        return value;
    }
    std::int64_t whole(std::int64_t value) {
        kinds.push_back(WordKind::whole);
        return value;
    }
    void real(double) { kinds.push_back(WordKind::real); }
};

template <class Words>
void visit_own(Words& words, Fighter& fighter, Combatant& who) {
    OwnWords<Words> own{words};
    FieldWalk walk{own};
    visit_fields(walk, fighter);
    visit_fields(walk, who);
}

} // namespace

OwnState own_state(const Skirmish& skirmish, BodyId id) {
    OwnState state;
    write_own_state(skirmish, id, state);
    return state;
}

void write_own_state(const Skirmish& skirmish, BodyId id, OwnState& to) {
    const Fighter* there = skirmish.find(id);
    assert(there != nullptr);
    Fighter fighter = *there;
    Combatant who = *skirmish.match().find(id);
    fighter.intent.yaw = static_cast<float>(fighter.look.yaw);
    fighter.intent.pitch = static_cast<float>(fighter.look.pitch);
    to.words.resize(kinds_of_own_state().size());
    Filling filling{to.words.data()};
    visit_own(filling, fighter, who);
    assert(filling.next == to.words.data() + to.words.size());
}

const std::vector<WordKind>& kinds_of_own_state() {
    static const std::vector<WordKind> kinds = [] {
        Telling telling;
        Fighter fighter;
        Combatant who;
        visit_own(telling, fighter, who);
        return telling.kinds;
    }();
    return kinds;
}

Fighter sent_fighter(const OwnState& state) {
    Fighter fighter;
    Combatant who;
    if (state.words.size() == kinds_of_own_state().size()) {
        WordReading reading{state.words};
        visit_own(reading, fighter, who);
    }
    return fighter;
}

bool differ_in_motion_only(const OwnState& one, const OwnState& other) {
    const auto still = [](const OwnState& state) {
        Fighter fighter;
        Combatant who;
        WordReading reading{state.words};
        visit_own(reading, fighter, who);
        fighter.motion = {};
        WordWriting writing;
        visit_own(writing, fighter, who);
        return writing.words;
    };
    return one.words.size() == other.words.size() && still(one) == still(other);
}

bool assume(Skirmish& skirmish, BodyId id, const OwnState& state) {
    Fighter* fighter = skirmish.edit(id);
    if (fighter == nullptr || state.words.size() != kinds_of_own_state().size()) {
        return false;
    }
    Combatant& who = *skirmish.match().edit(id);
    WordReading reading{state.words};
    visit_own(reading, *fighter, who);
    repair(*fighter, who, skirmish.arsenal(), skirmish.now());
    who.respawn_at = who.vanish_at = Time::max(); // the server says when
    fighter->look = {fighter->intent.yaw, fighter->intent.pitch};
    fighter->position_before = fighter->motion.position;
    fighter->look_before = fighter->look;
    fighter->to_place = false;
    return true;
}

} // namespace avrek::detail
