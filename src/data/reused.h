#pragma once
#include <memory>
#include <mutex>
#include <utility>
#include <vector>

/// Memory that two threads use in turns.
namespace avrek::detail {

/// Things that one thread fills and another empties. Their memory is used again: new memory costs page
/// faults.
template <class Thing>
class Reused {
  public:
    /// Returns a thing that nobody holds, as its last holder left it, or a new one. It comes back when its
    /// last holder lets it go, in any thread, also after the end of this object.
    std::shared_ptr<Thing> take() {
        std::unique_ptr<Thing> thing;
        {
            const std::lock_guard lock{shelf_->mutex};
            if (!shelf_->things.empty()) {
                thing = std::move(shelf_->things.back());
                shelf_->things.pop_back();
            }
        }
        if (!thing) {
            thing = std::make_unique<Thing>();
        }
        return {thing.release(), [shelf = shelf_](Thing* back) {
                    const std::lock_guard lock{shelf->mutex};
                    shelf->things.emplace_back(back);
                }};
    }

  private:
    struct Shelf {
        std::mutex mutex{};
        std::vector<std::unique_ptr<Thing>> things{};
    };
    std::shared_ptr<Shelf> shelf_ = std::make_shared<Shelf>();
};

} // namespace avrek::detail
