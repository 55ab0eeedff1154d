#include <avrek/avrek.h>

int main(int count, char** words) {
    const auto arsenal = avrek::load_arsenal(count > 1 ? words[1] : "");
    const avrek::WeaponSpec* rifle = arsenal ? find(arsenal->weapons, "thorn-rifle") : nullptr;
    const avrek::BodySpec* crew = arsenal ? find(arsenal->bodies, "crew") : nullptr;
    if (rifle == nullptr || crew == nullptr) {
        return 2;
    }
    return ideal_time_to_kill(*rifle, *crew, 10.0, avrek::RegionId{0}).shots == 3 ? 0 : 1;
}
