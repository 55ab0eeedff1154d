#pragma once
#include <avrek/skirmish/skirmish.h>

#include <cstddef>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

/// Named fields of a skirmish's state, to find where two runs diverge.
namespace avrek {

/// One field of a state.
struct NamedField {
    std::string name{}; ///< "match.combatant[7].vitals.health"
    std::variant<std::int64_t, double> value{};
    friend bool operator==(const NamedField&, const NamedField&) = default;
};

/// Returns the bits of its value.
std::uint64_t bits_of(const NamedField& field);

/// Returns its value as text, with all digits.
std::string value_text(const NamedField& field);

/// Returns every field that the state hash covers, in the hash's order.
std::vector<NamedField> named_fields(const Skirmish& skirmish);

/// Calls `visit` with the name and the bits of every field of named_fields(), in their order. Stores nothing:
/// a name is valid during its call.
void visit_named_fields(const Skirmish& skirmish,
                        const std::function<void(std::string_view, std::uint64_t)>& visit);

/// Returns a 16-bit hash of each part of a state: the match, each fighter, each combatant's vitals and
/// loadout, and so on. They show in which part two states differ, for two bytes each.
std::vector<std::uint16_t> part_hashes(const Skirmish& skirmish);

/// Returns the name of the first part, such as "match.combatant[7].vitals", that differs from the result of
/// part_hashes(); empty if none does.
std::string first_difference(const Skirmish& skirmish, const std::vector<std::uint16_t>& parts);

/// A field that differs between two states, bit for bit.
struct FieldDifference {
    std::string name{};
    std::string one{}; ///< value in the first; empty: no such field
    std::string other{};
};

/// Returns the first `most` fields in which two skirmishes differ.
std::vector<FieldDifference> differences(const Skirmish& one, const Skirmish& other, std::size_t most = 64);

/// Returns the same for lists of fields.
std::vector<FieldDifference> differences(const std::vector<NamedField>& one,
                                         const std::vector<NamedField>& other, std::size_t most = 64);

} // namespace avrek
