#pragma once
#include <avrek/skirmish/skirmish.h>

#include <cstddef>
#include <cstdint>
#include <string>
#include <variant>
#include <vector>

/// What a skirmish is made of, by name: for those who look for where two runs depart.
namespace avrek {

/// One number of a state.
struct NamedField {
    std::string name{}; ///< such as "match.combatant[7].vitals.health"
    std::variant<std::int64_t, double> value{};
    friend bool operator==(const NamedField&, const NamedField&) = default;
};

/// The bits of its value.
std::uint64_t bits_of(const NamedField& field);

/// Its value as text, with all digits.
std::string value_text(const NamedField& field);

/// Everything that the state hash is made of, in the hash's order.
std::vector<NamedField> named_fields(const Skirmish& skirmish);

/// A 16-bit hash of each part of a state: of the match, of each fighter, of a combatant's vitals, loadout and
/// so on. They say in which part two states depart, for two bytes each.
std::vector<std::uint16_t> part_hashes(const Skirmish& skirmish);

/// The name of the first part, such as "match.combatant[7].vitals", that differs from what part_hashes()
/// gave; empty when none does.
std::string first_difference(const Skirmish& skirmish, const std::vector<std::uint16_t>& parts);

/// A number of two states that is not the same, bit for bit.
struct FieldDifference {
    std::string name{};
    std::string one{}; ///< its value there; empty where there is no such field
    std::string other{};
};

/// The first `most` fields in which two skirmishes differ.
std::vector<FieldDifference> differences(const Skirmish& one, const Skirmish& other, std::size_t most = 64);

/// The same for lists of fields.
std::vector<FieldDifference> differences(const std::vector<NamedField>& one,
                                         const std::vector<NamedField>& other, std::size_t most = 64);

} // namespace avrek
