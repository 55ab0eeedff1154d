#pragma once
#include <avrek/arsenal/arsenal.h>

#include <cstdint>

namespace avrek {

/// A number that is equal for equal arsenals, bit for bit, and hardly ever for others: every value of every
/// spec counts. It tells states apart that do not fit each other, and keeps no secrets.
std::uint64_t hash_of(const Arsenal& arsenal);

} // namespace avrek
