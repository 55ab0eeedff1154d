#pragma once
#include <avrek/core/diagnostics.h>

#include <nlohmann/json.hpp>

#include <cstddef>
#include <span>
#include <string>
#include <vector>

/// JSON files with secrets, and bytes in them.
namespace avrek::detail {

std::string hex_of(std::span<const std::byte> bytes);
/// Fills `bytes`; false when the value is no text of so many bytes.
bool from_hex(const nlohmann::json& value, std::span<std::byte> bytes);

/// Writes a file that only its owner can read, whole or not at all.
std::vector<Diagnostic> write_key_file(const nlohmann::ordered_json& content, const std::string& file);
/// Reads a file. The diagnostics name what is allowed.
Loaded<nlohmann::json> read_key_file(const std::string& file, const std::string& allowed);

} // namespace avrek::detail
