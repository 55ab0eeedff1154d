#include "point_lanes.h"

#include <cstring>

// Vectors are passed between functions of this file alone.
#pragma GCC diagnostic ignored "-Wpsabi"

namespace avrek::detail {

namespace {

using Float8 [[gnu::vector_size(32)]] = float;
using Int8 [[gnu::vector_size(32)]] = std::int32_t;

// Sines and cosines at the middles of eight even angles across a half turn.
constexpr Lanes row_sines{-0.98078528F, -0.83146961F, -0.55557023F, -0.19509032F,
                          0.19509032F,  0.55557023F,  0.83146961F,  0.98078528F};
constexpr Lanes row_cosines{0.19509032F, 0.55557023F, 0.83146961F, 0.98078528F,
                            0.98078528F, 0.83146961F, 0.55557023F, 0.19509032F};

namespace portable {

static inline Float8 root(const Float8& values) {
    Float8 roots{};
    for (std::size_t lane = 0; lane < lanes; ++lane) {
        roots[lane] = __builtin_sqrtf(values[lane]);
    }
    return roots;
}

#include "point_lanes_body.h"

} // namespace portable

#if defined(__x86_64__)

#if defined(__clang__)
#pragma clang attribute push(__attribute__((target("avx2"))), apply_to = function)
#else
#pragma GCC push_options
#pragma GCC target("avx2")
#endif

namespace avx2 {

static inline Float8 root(Float8 values) {
    return __builtin_ia32_sqrtps256(values);
}

#include "point_lanes_body.h"

} // namespace avx2

#if defined(__clang__)
#pragma clang attribute pop
#else
#pragma GCC pop_options
#endif

#endif

} // namespace

const PointLanes& point_lanes([[maybe_unused]] bool wide) {
#if defined(__x86_64__)
    if (wide && __builtin_cpu_supports("avx2")) {
        return avx2::functions;
    }
#endif
    return portable::functions;
}

} // namespace avrek::detail
