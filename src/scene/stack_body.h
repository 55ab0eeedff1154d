// The rest of a walk, nearer nodes on top.

class Stack {
  public:
    // Chooses the nearest of the children in `mask` to go on with, and puts the others on the stack.
    template <class Fetch>
    std::uint32_t go_down(const Fetch& fetch, const Node& node, unsigned mask, const Float8& near) {
        const auto take = [&] {
            const auto child = static_cast<unsigned>(__builtin_ctz(mask));
            mask &= mask - 1;
            fetch(node.child[child]);
            return Entry{near[child], node.child[child]};
        };
        Entry first = take();
        if (mask == 0) {
            return first.node;
        }
        Entry second = take();
        if (second.near < first.near) {
            std::swap(first, second);
        }
        const int bottom = size_;
        entries_[size_++] = second;
        while (mask != 0) {
            Entry entry = take();
            if (entry.near < first.near) {
                std::swap(first, entry);
            }
            int index = size_++;
            while (index > bottom && entries_[index - 1].near < entry.near) {
                entries_[index] = entries_[index - 1];
                --index;
            }
            entries_[index] = entry;
        }
        return first.node;
    }

    // Takes the next that begins before the bound. Returns false if there is none.
    bool pop(float bound, std::uint32_t& next) {
        do {
            if (size_ == 0) {
                return false;
            }
            --size_;
        } while (entries_[size_].near > bound);
        next = entries_[size_].node;
        return true;
    }

  private:
    struct Entry {
        float near;
        std::uint32_t node;
    };

    int size_ = 0;
    Entry entries_[stack_size];
};
