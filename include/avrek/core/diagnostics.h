#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// Faults in data: all of them at once, each with its position.
namespace avrek {

/// Severity of a fault: a warning still loads, an error does not.
enum class Severity : std::uint8_t { warning, error };

/// One fault in a file.
struct Diagnostic {
    Severity severity = Severity::error;
    std::string file{};
    std::uint32_t line = 0;   ///< counted from 1; 0: the fault is the file itself
    std::uint32_t column = 0; ///< in characters from 1; 0: the fault is the file itself
    std::string where{};      ///< key or entry: "weapon.thorn-rifle.damage"; may be empty
    std::string message{};    ///< the fault that was found
    std::string allowed{};    ///< allowed values; may be empty
    std::string suggestion{}; ///< the nearest valid name; may be empty
};

/// Returns `diagnostic` as one line: FILE:LINE:COLUMN: error: WHERE: MESSAGE (did you mean ...?); allowed:
/// ...
std::string to_string(const Diagnostic& diagnostic);

/// A loaded value, or the reasons why there is none. Warnings can come with a value; errors never do.
template <class T>
struct Loaded {
    std::optional<T> value;
    std::vector<Diagnostic> diagnostics; ///< in order of file, line and column

    /// Returns whether there is a value.
    explicit operator bool() const { return value.has_value(); }
    /// Returns the value. Precondition: there is one.
    T& operator*() { return *value; }
    /// Returns the value. Precondition: there is one.
    const T& operator*() const { return *value; }
    /// Accesses the value. Precondition: there is one.
    T* operator->() { return &*value; }
    /// Accesses the value. Precondition: there is one.
    const T* operator->() const { return &*value; }
};

} // namespace avrek
