// The rest of one of many walks, nearer nodes on top, sorted in one register. Included for AVX-512. A walk by
// itself is faster with branches: the processor goes on by guess where it waits for memory.

// Eight or four keys, the largest first; a step exchanges lanes with their partners where they are out of
// order. The networks are the shortest there are (Knuth, The Art of Computer Programming 3, 5.3.4).
template <int keeps_smaller>
static inline __m256i exchanged(__m256i keys, __m256i partners) {
    return _mm256_mask_min_epi32(_mm256_max_epi32(keys, partners), keeps_smaller, keys, partners);
}

static inline __m256i sorted(__m256i keys) {
    const auto moved = [&](__m256i order) { return _mm256_permutevar8x32_epi32(keys, order); };
    keys = exchanged<0xcc>(keys, _mm256_shuffle_epi32(keys, 0x4e));
    keys = exchanged<0xf0>(keys, _mm256_permute2x128_si256(keys, keys, 1));
    keys = exchanged<0xaa>(keys, _mm256_shuffle_epi32(keys, 0xb1));
    keys = exchanged<0x30>(keys, moved(_mm256_setr_epi32(0, 1, 4, 5, 2, 3, 6, 7)));
    keys = exchanged<0x50>(keys, moved(_mm256_setr_epi32(0, 4, 2, 6, 1, 5, 3, 7)));
    return exchanged<0x54>(keys, moved(_mm256_setr_epi32(0, 2, 1, 4, 3, 6, 5, 7)));
}

template <int keeps_smaller>
static inline __m128i exchanged(__m128i keys, __m128i partners) {
    return _mm_mask_min_epi32(_mm_max_epi32(keys, partners), keeps_smaller, keys, partners);
}

static inline __m128i sorted(__m128i keys) {
    keys = exchanged<0xc>(keys, _mm_shuffle_epi32(keys, 0x4e));
    keys = exchanged<0xa>(keys, _mm_shuffle_epi32(keys, 0xb1));
    return exchanged<0x4>(keys, _mm_shuffle_epi32(keys, 0xd8));
}

// The smallest of the keys in the mask.
static inline int smallest_of(__m256i keys, unsigned mask) {
    const __m256i all =
        _mm256_mask_mov_epi32(_mm256_set1_epi32(0x7fffffff), static_cast<__mmask8>(mask), keys);
    __m128i half = _mm_min_epi32(_mm256_castsi256_si128(all), _mm256_extracti128_si256(all, 1));
    half = _mm_min_epi32(half, _mm_shuffle_epi32(half, 0x4e));
    half = _mm_min_epi32(half, _mm_shuffle_epi32(half, 0xb1));
    return _mm_cvtsi128_si32(half);
}

class BatchStack {
  public:
    // As Stack::go_down(), without branches. What is not the nearest is sorted while the walk is at
    // the next node already.
    template <class Fetch>
    std::uint32_t go_down(const Fetch&, const Node& node, unsigned mask, const Float8& near) {
        const __m256i lanes = _mm256_setr_epi32(0, 1, 2, 3, 4, 5, 6, 7);
        __m256i keys;
        std::memcpy(&keys, &near, sizeof keys);
        keys = _mm256_or_si256(_mm256_andnot_si256(_mm256_set1_epi32(7), keys), lanes);
        const unsigned nearest = static_cast<unsigned>(smallest_of(keys, mask)) & 7U;
        const std::uint32_t next = node.child[nearest];
        const unsigned others = mask & ~(1U << nearest);
        const int count = __builtin_popcount(others);
        keys = _mm256_mask_compress_epi32(_mm256_set1_epi32(-1), static_cast<__mmask8>(others), keys);
        keys = count <= 4 ? _mm256_castsi128_si256(sorted(_mm256_castsi256_si128(keys))) : sorted(keys);
        __m256i children;
        std::memcpy(&children, node.child, sizeof children);
        children = _mm256_permutevar8x32_epi32(children, keys); // by the last three bits
        std::memcpy(keys_ + size_, &keys, sizeof keys);
        std::memcpy(nodes_ + size_, &children, sizeof children);
        size_ += count;
        return next;
    }

    bool pop(float bound, std::uint32_t& next) {
        int farthest = 0;
        std::memcpy(&farthest, &bound, sizeof farthest);
        farthest |= 7;
        do {
            if (size_ == 0) {
                return false;
            }
            --size_;
        } while (keys_[size_] > farthest);
        next = nodes_[size_];
        return true;
    }

  private:
    int size_ = 0;
    // Distances as the bits of floats, which rise as they do, with the lane for their last three bits.
    int keys_[stack_size];
    std::uint32_t nodes_[stack_size];
};
