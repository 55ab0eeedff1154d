#pragma once
#include <cstdint>

/// How often this process has asked for memory so far; 0 under sanitizers, where it is not counted.
std::uint64_t allocations();
