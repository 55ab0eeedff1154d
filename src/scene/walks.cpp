#include "tree.h"
#include "watertight.h"

#include <cstring>
#include <new>
#include <utility>

#if defined(__x86_64__)
#include <immintrin.h>
#endif

// Vectors of eight are passed between functions of this file alone.
#pragma GCC diagnostic ignored "-Wpsabi"

namespace avrek::detail::tree {

namespace {

using Float4 [[gnu::vector_size(16)]] = float;
using Float8 [[gnu::vector_size(32)]] = float;
using Int4 [[gnu::vector_size(16)]] = std::int32_t;
using Int8 [[gnu::vector_size(32)]] = std::int32_t;
using Double4 [[gnu::vector_size(32)]] = double;
using Long4 [[gnu::vector_size(32)]] = std::int64_t;

// No node is deeper than 72, and each leaves at most seven more to do; whole vectors are written.
constexpr int stack_size = 72 * 7 + 8;

namespace portable {

static inline Float8 product_sum(Float8 a, Float8 b, Float8 c) {
    return a * b + c;
}

static inline Float8 lane_min(Float8 a, Float8 b) {
    return a < b ? a : b;
}

static inline Float8 lane_max(Float8 a, Float8 b) {
    return a > b ? a : b;
}

static inline Float4 lane_min(Float4 a, Float4 b) {
    return a < b ? a : b;
}

static inline Float4 lane_max(Float4 a, Float4 b) {
    return a > b ? a : b;
}

static inline Double4 lane_min(Double4 a, Double4 b) {
    return a < b ? a : b;
}

static inline Double4 lane_max(Double4 a, Double4 b) {
    return a > b ? a : b;
}

static inline Double4 as_double(Float4 lanes) {
    return __builtin_convertvector(lanes, Double4);
}

template <class Lanes>
unsigned movemask(const Lanes& lanes) {
    unsigned mask = 0;
    for (unsigned lane = 0; lane < sizeof(Lanes) / sizeof lanes[0]; ++lane) {
        mask |= (lanes[lane] != 0 ? 1U : 0U) << lane;
    }
    return mask;
}

#include "stack_body.h"
using BatchStack = Stack;
#include "walks_body.h"

} // namespace portable

#if defined(__x86_64__)

#if defined(__clang__)
#pragma clang attribute push(__attribute__((target("avx2,fma,bmi,bmi2,popcnt"))), apply_to = function)
#else
#pragma GCC push_options
#pragma GCC target("avx2,fma,bmi,bmi2,popcnt")
#endif

namespace avx2 {

#include "lanes_avx2_body.h"
#include "stack_body.h"
using BatchStack = Stack;
#include "walks_body.h"

} // namespace avx2

#if defined(__clang__)
#pragma clang attribute pop
#pragma clang attribute push(                                                                                \
    __attribute__((target("avx2,fma,bmi,bmi2,popcnt,avx512f,avx512vl,avx512dq,avx512bw"))),                  \
    apply_to = function)
#else
#pragma GCC pop_options
#pragma GCC push_options
#pragma GCC target("avx2,fma,bmi,bmi2,popcnt,avx512f,avx512vl,avx512dq,avx512bw")
#endif

namespace avx512 {

#include "lanes_avx2_body.h"
#include "stack_avx512_body.h"
#include "stack_body.h"
#include "walks_body.h"

} // namespace avx512

#if defined(__clang__)
#pragma clang attribute pop
#else
#pragma GCC pop_options
#endif

#endif

} // namespace

const Walks& walks_for([[maybe_unused]] VectorUse use) {
#if defined(__x86_64__)
    const bool has_avx2 = __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma") &&
                          __builtin_cpu_supports("bmi") && __builtin_cpu_supports("bmi2") &&
                          __builtin_cpu_supports("popcnt");
    const bool has_avx512 = has_avx2 && __builtin_cpu_supports("avx512f") &&
                            __builtin_cpu_supports("avx512vl") && __builtin_cpu_supports("avx512dq") &&
                            __builtin_cpu_supports("avx512bw");
    if (has_avx512 && use == VectorUse::widest) {
        return avx512::walks;
    }
    if (has_avx2 && use != VectorUse::none) {
        return avx2::walks;
    }
#endif
    return portable::walks;
}

} // namespace avrek::detail::tree
