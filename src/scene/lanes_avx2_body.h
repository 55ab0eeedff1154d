// Lanes of 256 bits. Included for AVX2 and for AVX-512.

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

static inline Float4 lane_min(Float4 a, Float4 b) {
    return __builtin_ia32_minps(a, b);
}

static inline Float4 lane_max(Float4 a, Float4 b) {
    return __builtin_ia32_maxps(a, b);
}

static inline Double4 lane_min(Double4 a, Double4 b) {
    return __builtin_ia32_minpd256(a, b);
}

static inline Double4 lane_max(Double4 a, Double4 b) {
    return __builtin_ia32_maxpd256(a, b);
}

static inline Double4 as_double(Float4 lanes) {
    return reinterpret_cast<Double4>(_mm256_cvtps_pd(reinterpret_cast<__m128>(lanes)));
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
