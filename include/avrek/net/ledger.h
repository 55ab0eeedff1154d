#pragma once
#include <avrek/core/ids.h>

#include <cstddef>
#include <cstdint>
#include <functional>
#include <map>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

/// The ledger: replicated properties of a match and its combatants. The server writes it. Clients get all of
/// it when they join, then changes.
namespace avrek {

/// Value of a property.
using LedgerValue = std::variant<std::int64_t, double, std::string>;

/// One property of a combatant, or of the match for `nobody`.
struct LedgerEntry {
    BodyId subject = nobody;
    std::string property{}; ///< 1 to 64 characters
    LedgerValue value{};
    bool gone = false; ///< in a change: the property was removed
    friend bool operator==(const LedgerEntry&, const LedgerEntry&) = default;
};

/// Longer text is cut to this many bytes.
inline constexpr std::size_t max_ledger_text = 256;

/// A set of properties, with its changes.
class Ledger {
  public:
    /// Sets a property. Returns whether it changed; numbers are compared bit for bit.
    bool set(BodyId subject, std::string_view property, const LedgerValue& value);
    /// Removes a property, or all properties of a combatant.
    bool forget(BodyId subject, std::string_view property);
    /// Removes all properties of a combatant.
    void forget(BodyId subject);

    /// Returns a property, or null.
    const LedgerValue* find(BodyId subject, std::string_view property) const;
    /// Returns a number as an integer; `otherwise` if there is none.
    std::int64_t whole(BodyId subject, std::string_view property, std::int64_t otherwise = 0) const;
    /// Returns a number; `otherwise` if there is none.
    double number(BodyId subject, std::string_view property, double otherwise = 0.0) const;

    /// Returns the combatants that have a property, in order.
    std::vector<BodyId> subjects_with(std::string_view property) const;
    /// Returns all entries, in order of subjects and properties.
    std::vector<LedgerEntry> entries() const;
    /// Returns the number of properties.
    std::size_t size() const { return size_; }

    /// Returns the properties changed since the last call, each once, with its present value.
    std::vector<LedgerEntry> take_changes();

    friend bool operator==(const Ledger& one, const Ledger& other) { return one.values_ == other.values_; }

  private:
    struct Key {
        std::uint32_t subject = 0;
        std::string property{};
        friend auto operator<=>(const Key&, const Key&) = default;
    };
    // Clients look up a few properties of every combatant in every frame.
    using Properties = std::map<std::string, LedgerValue, std::less<>>;
    std::map<std::uint32_t, Properties> values_; // by subject; none is empty
    std::size_t size_ = 0;
    std::map<Key, bool> changed_; // true: gone
};

/// Returns the properties in which two ledgers differ, each as "SUBJECT.PROPERTY".
std::vector<std::string> differences(const Ledger& one, const Ledger& other);

} // namespace avrek
