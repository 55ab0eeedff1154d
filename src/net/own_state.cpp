#include "own_state.h"

#include "own_state_repair.h"
#include <avrek/core/state_fields.h>

#include <bit>
#include <cassert>
#include <concepts>
#include <type_traits>
#include <utility>

namespace avrek::detail {

namespace {

// A sink of FieldWalk for the words of a state. Runs of flags share a word.
template <class Words>
class OwnWords {
  public:
    static constexpr bool is_whole = true; // so that there are always as many words

    explicit OwnWords(Words& words) : words_(words) {}

    static bool takes(FieldUse use) { return use == FieldUse::everywhere; }
    void enter(const char*, int) {}
    void leave() {}
    bool flag(const char*, bool value) {
        value = words_.flag(value, flags_);
        flags_ = (flags_ + 1) % 64;
        return value;
    }
    void leaf(const char* name, bool& value) { value = flag(name, value); }
    template <class Value>
    requires std::integral<Value> || std::is_enum_v<Value>
    void leaf(const char*, Value& value) { whole(value, static_cast<std::int64_t>(value)); }
    template <std::floating_point Value>
    void leaf(const char*, Value& value) {
        flags_ = 0;
        words_.real(value);
    }
    void leaf(const char*, Vector3& vector) {
        for (double& coordinate : vector.reshaped()) {
            leaf("", coordinate);
        }
    }
    void leaf(const char*, Look& look) {
        leaf("", look.yaw);
        leaf("", look.pitch);
    }
    void leaf(const char*, Time& at) {
        auto count = at.time_since_epoch().count();
        leaf("", count);
        at = Time{Duration{count}};
    }
    void leaf(const char*, Duration& length) {
        auto count = length.count();
        leaf("", count);
        length = Duration{count};
    }
    template <class Id>
    void leaf(const char*, std::optional<Id>& id) {
        std::int32_t number = to_number(id);
        leaf("", number);
        id = optional_id<Id>(number);
    }
    void leaf(const char*, Buttons& buttons) {
        std::uint32_t bits = buttons.bits();
        leaf("", bits);
        buttons = Buttons::from_bits(bits);
    }

    void leaf(const char*, IgnoredBodies&) {} // never sent

  private:
    template <class Value>
    void whole(Value& value, std::int64_t number) {
        flags_ = 0;
        value = static_cast<Value>(words_.whole(number));
    }

    Words& words_;
    unsigned flags_ = 0; // in the word of the present run
};

// Takes the words of a state one after another.
struct Writing {
    std::vector<std::uint64_t> words{};

    bool flag(bool value, unsigned bit) {
        if (bit == 0) {
            words.push_back(0);
        }
        words.back() |= std::uint64_t{value} << bit;
        return value;
    }
    std::int64_t whole(std::int64_t value) {
        words.push_back(static_cast<std::uint64_t>(value));
        return value;
    }
    void real(double value) { words.push_back(std::bit_cast<std::uint64_t>(value)); }
    void real(float value) { words.push_back(std::bit_cast<std::uint32_t>(value)); }
};

// Puts them back; repair() holds them to their ranges.
struct Reading {
    const std::vector<std::uint64_t>& words;
    std::size_t at = 0;

    bool flag(bool, unsigned bit) {
        at += bit == 0 ? 1 : 0;
        return (words[at - 1] >> bit & 1U) != 0;
    }
    std::int64_t whole(std::int64_t) { return static_cast<std::int64_t>(words[at++]); }
    void real(double& value) { value = std::bit_cast<double>(words[at++]); }
    void real(float& value) { value = std::bit_cast<float>(static_cast<std::uint32_t>(words[at++])); }
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
    const Fighter* there = skirmish.find(id);
    assert(there != nullptr);
    Fighter fighter = *there;
    Combatant who = *skirmish.match().find(id);
    fighter.intent.yaw = static_cast<float>(fighter.look.yaw);
    fighter.intent.pitch = static_cast<float>(fighter.look.pitch);
    Writing writing;
    writing.words.reserve(kinds_of_own_state().size());
    visit_own(writing, fighter, who);
    return {std::move(writing.words)};
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

bool assume(Skirmish& skirmish, BodyId id, const OwnState& state) {
    Fighter* fighter = skirmish.edit(id);
    if (fighter == nullptr || state.words.size() != kinds_of_own_state().size()) {
        return false;
    }
    Combatant& who = *skirmish.match().edit(id);
    Reading reading{state.words};
    visit_own(reading, *fighter, who);
    repair(*fighter, who, skirmish.arsenal(), skirmish.now());
    who.respawn_at = who.vanish_at = Time::max(); // the server says when
    fighter->look = {fighter->intent.yaw, fighter->intent.pitch};
    fighter->position_before = fighter->position;
    fighter->look_before = fighter->look;
    fighter->to_place = false;
    return true;
}

} // namespace avrek::detail
