#pragma once
#include <cstdint>
#include <optional>
#include <string>
#include <utility>
#include <vector>

/// What was wrong with data: all of it at once, each fault with its place.
namespace avrek {

/// How bad a fault is: a warning still loads, an error does not.
enum class Severity : std::uint8_t { warning, error };

/// One fault in data that somebody wrote.
struct Diagnostic {
    Severity severity = Severity::error;
    std::string file;
    std::uint32_t line = 0;   ///< counted from 1; 0 when the fault is the file itself
    std::uint32_t column = 0; ///< counted from 1, in characters; 0 when the fault is the file itself
    std::string where;        ///< the key or entry, such as "weapon.thorn-rifle.damage"; may be empty
    std::string message;      ///< what was found
    std::string allowed;      ///< what is allowed; may be empty
    std::string suggestion;   ///< the nearest valid name; may be empty
};

/// `diagnostic` as one line: FILE:LINE:COLUMN: error: WHERE: MESSAGE (did you mean ...?); allowed: ...
std::string to_string(const Diagnostic& diagnostic);

/// Something loaded, or the reasons why not. Warnings may come with a value; errors never do.
template <class T>
struct Loaded {
    std::optional<T> value;
    std::vector<Diagnostic> diagnostics; ///< in order of file, line and column

    explicit operator bool() const { return value.has_value(); }
    T& operator*() { return *value; }
    const T& operator*() const { return *value; }
    T* operator->() { return &*value; }
    const T* operator->() const { return &*value; }
};

} // namespace avrek
