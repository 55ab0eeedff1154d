#pragma once
#include <avrek/core/ids.h>

#include <cstdint>
#include <map>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

/// The ledger: named properties of a match and of those in it, which every machine knows. The server writes
/// it; clients get all of it when they join, and then what changes.
namespace avrek {

using LedgerValue = std::variant<std::int64_t, double, std::string>;

/// One property of somebody, or, of `nobody`, of the match.
struct LedgerEntry {
    BodyId subject = nobody;
    std::string property{}; ///< 1 to 64 characters
    LedgerValue value{};
    bool gone = false; ///< of a change: there is no such property any more
    friend bool operator==(const LedgerEntry&, const LedgerEntry&) = default;
};

/// Text of a ledger is cut to so many bytes.
inline constexpr std::size_t max_ledger_text = 256;

class Ledger {
  public:
    /// Sets a property. Returns whether that changed anything; numbers are compared bit for bit.
    bool set(BodyId subject, std::string_view property, const LedgerValue& value);
    /// Forgets a property, or all of somebody's.
    bool forget(BodyId subject, std::string_view property);
    void forget(BodyId subject);

    const LedgerValue* find(BodyId subject, std::string_view property) const;
    /// A number of somebody's as a whole one; `otherwise` when there is none.
    std::int64_t whole(BodyId subject, std::string_view property, std::int64_t otherwise = 0) const;
    double number(BodyId subject, std::string_view property, double otherwise = 0.0) const;

    /// Everything, in order of subjects and properties.
    std::vector<LedgerEntry> entries() const;
    std::size_t size() const { return values_.size(); }

    /// What set() and forget() have changed since the last call, each property once, as it is now.
    std::vector<LedgerEntry> take_changes();

    friend bool operator==(const Ledger& one, const Ledger& other) { return one.values_ == other.values_; }

  private:
    struct Key {
        std::uint32_t subject = 0;
        std::string property{};
        friend auto operator<=>(const Key&, const Key&) = default;
    };
    struct Less {
        using is_transparent = void;
        template <class One, class Other>
        bool operator()(const One& one, const Other& other) const {
            return one.subject != other.subject
                       ? one.subject < other.subject
                       : std::string_view{one.property} < std::string_view{other.property};
        }
    };
    struct Seen {
        std::uint32_t subject = 0;
        std::string_view property{};
    };
    std::map<Key, LedgerValue, Less> values_;
    std::map<Key, bool, Less> changed_; // true: gone
};

/// In what two ledgers differ: the properties, each as "SUBJECT.PROPERTY".
std::vector<std::string> differences(const Ledger& one, const Ledger& other);

} // namespace avrek
