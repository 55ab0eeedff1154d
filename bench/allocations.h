#pragma once
#include <cstdint>

/// How often this process has asked for memory so far.
std::uint64_t allocations();
