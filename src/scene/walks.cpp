#include "tree.h"
#include "watertight.h"

#include <cstring>

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

template <class Lanes>
unsigned movemask(const Lanes& lanes) {
    unsigned mask = 0;
    for (unsigned lane = 0; lane < sizeof(Lanes) / sizeof lanes[0]; ++lane) {
        mask |= (lanes[lane] != 0 ? 1U : 0U) << lane;
    }
    return mask;
}

#include "capsules_body.h"
#include "walks_body.h"

} // namespace portable

#if defined(__x86_64__)

#if defined(__clang__)
#pragma clang attribute push(__attribute__((target("avx2,fma"))), apply_to = function)
#else
#pragma GCC push_options
#pragma GCC target("avx2,fma")
#endif

namespace avx2 {

// Rounded once instead of twice: only boxes are computed by this, which decide nothing but what is looked at.
static inline Float8 product_sum(Float8 a, Float8 b, Float8 c) {
    return __builtin_ia32_vfmaddps256(a, b, c);
}

static inline Float8 lane_min(Float8 a, Float8 b) {
    return __builtin_ia32_minps256(a, b);
}

static inline Float8 lane_max(Float8 a, Float8 b) {
    return __builtin_ia32_maxps256(a, b);
}

static inline unsigned movemask(Int8 lanes) {
    return static_cast<unsigned>(__builtin_ia32_movmskps256(reinterpret_cast<Float8>(lanes)));
}

static inline unsigned movemask(Int4 lanes) {
    return static_cast<unsigned>(__builtin_ia32_movmskps(reinterpret_cast<Float4>(lanes)));
}

static inline unsigned movemask(Long4 lanes) {
    return static_cast<unsigned>(__builtin_ia32_movmskpd256(reinterpret_cast<Double4>(lanes)));
}

#include "capsules_body.h"
#include "walks_body.h"

} // namespace avx2

#if defined(__clang__)
#pragma clang attribute pop
#else
#pragma GCC pop_options
#endif

#endif

} // namespace

const Walks& portable_walks() {
    return portable::walks;
}

const Walks& widest_walks() {
#if defined(__x86_64__)
    if (__builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma")) {
        return avx2::walks;
    }
#endif
    return portable::walks;
}

} // namespace avrek::detail::tree
