#pragma once
#include <algorithm>
#include <cstdlib>

#if defined(__has_feature)
#if __has_feature(address_sanitizer) || __has_feature(thread_sanitizer)
#define AVREK_TESTS_ARE_SLOW
#endif
#endif

/// How many times a random test tries.
namespace avrek {

/// Whether this build is under sanitizers, and takes twenty times as long.
#ifdef AVREK_TESTS_ARE_SLOW
inline constexpr bool tests_are_slow = true;
#else
inline constexpr bool tests_are_slow = false;
#endif

/// As many as the environment variable `variable` says; otherwise `usual`, and a tenth of it under
/// sanitizers, which look for faults that show the first time. Each try asserts the same.
inline int rounds(int usual, const char* variable = nullptr) {
    const char* const set = variable != nullptr ? std::getenv(variable) : nullptr;
    if (set != nullptr) {
        return std::atoi(set);
    }
    return tests_are_slow ? std::max(1, usual / 10) : usual;
}

/// How often something must have happened for a test of so many tries to mean anything.
template <class Number>
Number enough(Number usual) {
    return tests_are_slow ? usual / 20 : usual;
}

} // namespace avrek
