// Makes the mesh of the demo level: the atrium of the Halm Ring, a greenhouse hall 64 m long and 40 m wide.
//
//     make_atrium FILE.glb
//
// The hall runs along Z. Beds, columns, trees and boulders are each made once and placed by nodes; the mesh
// is the same for every run and machine.
#include <avrek/core/elementary.h>
#include <avrek/core/random.h>
#include <avrek/core/vectors.h>

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include <cmath>
#include <cstdint>
#include <cstdio>
#include <cstring>
#include <functional>
#include <string>
#include <utility>
#include <vector>

using namespace avrek;

namespace {

constexpr double hall_half_width = 20.0;
constexpr double hall_half_length = 32.0;

// Corners and triangles of one part of one material.
struct Part {
    int material = 0;
    std::vector<Vector3> corners{};
    std::vector<std::uint32_t> triangles{};

    std::uint32_t add(const Vector3& corner) {
        corners.push_back(corner);
        return static_cast<std::uint32_t>(corners.size() - 1);
    }
    // Leaves out what has no area, such as at the pole of a ball.
    void add(std::uint32_t a, std::uint32_t b, std::uint32_t c) {
        const Vector3 one = corners[a].cast<float>().cast<double>();
        const Vector3 two = corners[b].cast<float>().cast<double>();
        const Vector3 three = corners[c].cast<float>().cast<double>();
        if ((two - one).cross(three - one).squaredNorm() > 0.0) {
            triangles.insert(triangles.end(), {a, b, c});
        }
    }
};

double chance(std::uint32_t what, std::uint32_t number) {
    return random_pair({.seed = 1961, .combatant = what, .shot = number})[0];
}

// Smooth hills between 0 and 1: random heights on a grid, blended.
double hills(std::uint32_t what, double x, double z) {
    const double column = std::floor(x);
    const double row = std::floor(z);
    const auto height = [&](double dx, double dz) {
        return chance(what, static_cast<std::uint32_t>((column + dx + 500.0) * 1000.0 + row + dz + 500.0));
    };
    const auto blend = [](double share) { return share * share * (3.0 - 2.0 * share); };
    const double across = blend(x - column);
    const double along = blend(z - row);
    const double near = height(0, 0) + across * (height(1, 0) - height(0, 0));
    const double far = height(0, 1) + across * (height(1, 1) - height(0, 1));
    return near + along * (far - near);
}

// A sheet of columns x rows cells over `at(u, v)` with u and v in [0, 1]. Its front is where u leads right of
// v.
void add_sheet(Part& part, std::uint32_t columns, std::uint32_t rows,
               const std::function<Vector3(double, double)>& at) {
    const auto first = static_cast<std::uint32_t>(part.corners.size());
    for (std::uint32_t row = 0; row <= rows; ++row) {
        for (std::uint32_t column = 0; column <= columns; ++column) {
            part.add(at(static_cast<double>(column) / columns, static_cast<double>(row) / rows));
        }
    }
    for (std::uint32_t row = 0; row < rows; ++row) {
        for (std::uint32_t column = 0; column < columns; ++column) {
            const std::uint32_t corner = first + row * (columns + 1) + column;
            part.add(corner, corner + columns + 1, corner + 1);
            part.add(corner + 1, corner + columns + 1, corner + columns + 2);
        }
    }
}

// A closed box.
void add_box(Part& part, const Vector3& low, const Vector3& high) {
    const auto first = static_cast<std::uint32_t>(part.corners.size());
    for (unsigned corner = 0; corner < 8; ++corner) {
        part.add({(corner & 1U) != 0 ? high.x() : low.x(), (corner & 2U) != 0 ? high.y() : low.y(),
                  (corner & 4U) != 0 ? high.z() : low.z()});
    }
    constexpr std::uint32_t faces[6][4] = {{0, 4, 6, 2}, {1, 3, 7, 5}, {0, 1, 5, 4},
                                           {2, 6, 7, 3}, {0, 2, 3, 1}, {4, 5, 7, 6}};
    for (const auto& face : faces) {
        part.add(first + face[0], first + face[1], first + face[2]);
        part.add(first + face[0], first + face[2], first + face[3]);
    }
}

// A closed round solid about the line from `from` to `to`: rings of `around` corners, of radius(share).
void add_turned(Part& part, const Vector3& from, const Vector3& to, std::uint32_t around, std::uint32_t rings,
                const std::function<double(double, double)>& radius) {
    const auto first = static_cast<std::uint32_t>(part.corners.size());
    const Across axes = across((to - from).normalized());
    for (std::uint32_t ring = 0; ring <= rings; ++ring) {
        const double share = static_cast<double>(ring) / rings;
        for (std::uint32_t index = 0; index < around; ++index) {
            const double angle = 2.0 * pi * index / around;
            const double reach = radius(share, angle);
            part.add(from + share * (to - from) +
                     reach * (cosine(angle) * axes.left + sine(angle) * axes.up));
        }
    }
    const std::uint32_t low = part.add(from);
    const std::uint32_t high = part.add(to);
    for (std::uint32_t index = 0; index < around; ++index) {
        const std::uint32_t next = (index + 1) % around;
        part.add(low, first + next, first + index);
        part.add(high, first + rings * around + index, first + rings * around + next);
        for (std::uint32_t ring = 0; ring < rings; ++ring) {
            const std::uint32_t here = first + ring * around;
            part.add(here + index, here + next, here + around + index);
            part.add(here + next, here + around + next, here + around + index);
        }
    }
}

// A lumpy ball.
void add_lump(Part& part, const Vector3& centre, double size, std::uint32_t around, std::uint32_t what) {
    const Vector3 half{0.0, size, 0.0};
    add_turned(part, centre - half, centre + half, around, around / 2, [&](double share, double angle) {
        const double lump =
            0.7 + 0.5 * hills(what, 2.0 * cosine(angle) + 3.0, 4.0 * share + 2.0 * sine(angle) + 3.0);
        return size * lump * std::sqrt(std::max(0.0, 1.0 - (2.0 * share - 1.0) * (2.0 * share - 1.0)));
    });
}

enum Material { soil, bark, stone, pane, leaf, steel };

class Atrium {
  public:
    Atrium() {
        for (const char* name : {"soil", "bark", "stone", "pane", "leaf", "steel"}) {
            model_.materials.emplace_back().name = name;
        }
        model_.scenes.emplace_back();
        model_.buffers.emplace_back();
        model_.asset.version = "2.0";
        model_.asset.generator = "make_atrium";
    }

    // Adds a mesh of these parts; returns its number.
    int add_mesh(const std::string& name, const std::vector<Part>& parts) {
        tinygltf::Mesh mesh;
        mesh.name = name;
        for (const Part& part : parts) {
            tinygltf::Primitive primitive;
            primitive.mode = TINYGLTF_MODE_TRIANGLES;
            primitive.material = part.material;
            primitive.attributes["POSITION"] = add_corners(part);
            primitive.indices = add_triangles(part);
            mesh.primitives.push_back(primitive);
        }
        model_.meshes.push_back(mesh);
        return static_cast<int>(model_.meshes.size() - 1);
    }

    void place(int mesh, const Vector3& at, double yaw = 0.0, double scale = 1.0,
               const char* layer = nullptr) {
        tinygltf::Node node;
        node.mesh = mesh;
        node.name = model_.meshes[static_cast<std::size_t>(mesh)].name;
        node.translation = {at.x(), at.y(), at.z()};
        node.rotation = {0.0, sine(0.5 * yaw), 0.0, cosine(0.5 * yaw)};
        node.scale = {scale, scale, scale};
        if (layer != nullptr) {
            node.extras =
                tinygltf::Value{tinygltf::Value::Object{{"layer", tinygltf::Value{std::string{layer}}}}};
        }
        model_.nodes.push_back(node);
        model_.scenes.front().nodes.push_back(static_cast<int>(model_.nodes.size() - 1));
    }

    bool write(const std::string& file) {
        tinygltf::TinyGLTF writer;
        return writer.WriteGltfSceneToFile(&model_, file, true, true, false, true);
    }

  private:
    template <class Value>
    int add_view(const std::vector<Value>& values, int target) {
        auto& bytes = model_.buffers.front().data;
        bytes.resize((bytes.size() + 3) / 4 * 4);
        tinygltf::BufferView view;
        view.buffer = 0;
        view.byteOffset = bytes.size();
        view.byteLength = values.size() * sizeof(Value);
        view.target = target;
        bytes.resize(bytes.size() + view.byteLength);
        std::memcpy(bytes.data() + view.byteOffset, values.data(), view.byteLength);
        model_.bufferViews.push_back(view);
        return static_cast<int>(model_.bufferViews.size() - 1);
    }

    int add_accessor(int view, std::size_t count, int component, int type) {
        tinygltf::Accessor accessor;
        accessor.bufferView = view;
        accessor.count = count;
        accessor.componentType = component;
        accessor.type = type;
        model_.accessors.push_back(accessor);
        return static_cast<int>(model_.accessors.size() - 1);
    }

    int add_corners(const Part& part) {
        std::vector<float> values;
        Vector3 low = part.corners.front();
        Vector3 high = low;
        for (const Vector3& corner : part.corners) {
            for (const double value : corner) {
                values.push_back(static_cast<float>(value));
            }
            low = low.cwiseMin(corner);
            high = high.cwiseMax(corner);
        }
        const int accessor = add_accessor(add_view(values, TINYGLTF_TARGET_ARRAY_BUFFER), part.corners.size(),
                                          TINYGLTF_COMPONENT_TYPE_FLOAT, TINYGLTF_TYPE_VEC3);
        const auto bound = [](const Vector3& corner) { // as the file stores it
            const Eigen::Vector3d stored = corner.cast<float>().cast<double>();
            return std::vector<double>{stored.x(), stored.y(), stored.z()};
        };
        model_.accessors.back().minValues = bound(low);
        model_.accessors.back().maxValues = bound(high);
        return accessor;
    }

    int add_triangles(const Part& part) {
        const bool small = part.corners.size() < 65536;
        const int type =
            small ? TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT : TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT;
        const int view =
            small ? add_view(std::vector<std::uint16_t>(part.triangles.begin(), part.triangles.end()),
                             TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER)
                  : add_view(part.triangles, TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER);
        return add_accessor(view, part.triangles.size(), type, TINYGLTF_TYPE_SCALAR);
    }

    tinygltf::Model model_;
};

double ground(double x, double z) {
    const double path = std::abs(x) < 3.0 ? 0.0 : 1.0; // the middle aisle is level
    return path * 0.35 * hills(1, 0.22 * x + 40.0, 0.22 * z + 40.0);
}

Part floor_part() {
    Part part{soil};
    add_sheet(part, 88, 120, [](double u, double v) {
        const double x = hall_half_width * (2.0 * u - 1.0);
        const double z = hall_half_length * (2.0 * v - 1.0);
        return Vector3{x, ground(x, z), z};
    });
    return part;
}

// A terrace along one side, with a stair at either end and a parapet.
Part terrace_part() {
    Part part{stone};
    add_box(part, {14.0, -0.5, -24.0}, {20.0, 3.0, 24.0});
    add_box(part, {14.0, 3.0, -24.0}, {14.3, 4.0, 24.0});
    for (int step = 0; step < 12; ++step) {
        const double top = 0.25 * (step + 1);
        const double begin = 24.0 + 0.4 * (11 - step);
        add_box(part, {15.0, -0.5, begin}, {19.0, top, begin + 0.4});
        add_box(part, {15.0, -0.5, -begin - 0.4}, {19.0, top, -begin});
    }
    return part;
}

Part end_wall_part() {
    Part part{stone};
    add_sheet(part, 24, 16, [](double u, double v) {
        const double x = hall_half_width * (1.0 - 2.0 * u);
        return Vector3{x, -0.5 + 13.5 * v, hall_half_length + 0.15 * hills(2, 24.0 * u, 16.0 * v)};
    });
    for (std::size_t first = 0; first < part.triangles.size(); first += 3) { // its front is inside
        std::swap(part.triangles[first + 1], part.triangles[first + 2]);
    }
    return part;
}

// The glass vault and its ribs.
std::vector<Part> vault_parts() {
    Part glass{pane};
    const auto arch = [](double share) {
        const double angle = pi * share;
        return Vector3{hall_half_width * cosine(angle), 4.0 + 13.0 * sine(angle), 0.0};
    };
    add_sheet(glass, 64, 48, [&](double u, double v) {
        return Vector3{arch(1.0 - u) + (2.0 * v - 1.0) * hall_half_length * world_forward()};
    });
    Part ribs{steel};
    for (int rib = 0; rib < 9; ++rib) {
        const double z = hall_half_length * (rib - 4.0) / 4.0;
        for (int piece = 0; piece < 24; ++piece) {
            const Vector3 from = arch(piece / 24.0) + z * world_forward();
            const Vector3 to = arch((piece + 1) / 24.0) + z * world_forward();
            add_turned(ribs, from, to, 8, 1, [](double, double) { return 0.12; });
        }
    }
    Part sides{stone};
    for (const double side : {-1.0, 1.0}) {
        const double x = side * hall_half_width;
        add_box(sides, {std::min(x, x + side), -0.5, -hall_half_length},
                {std::max(x, x + side), 4.0, hall_half_length});
    }
    return {glass, ribs, sides};
}

Part column_part() {
    Part part{stone};
    add_turned(part, {0, -0.5, 0}, {0, 7.0, 0}, 28, 18, [](double share, double angle) {
        const double flute = 0.03 * cosine(12.0 * angle);
        const double foot = share < 0.12 || share > 0.92 ? 0.25 : 0.0;
        return 0.55 + flute + foot;
    });
    return part;
}

// A trunk with boughs, and a crown of leaves.
std::vector<Part> tree_parts(std::uint32_t what) {
    Part wood{bark};
    const Vector3 top{0.0, 4.5, 0.0};
    add_turned(wood, {0, -0.3, 0}, top, 20, 16, [&](double share, double angle) {
        return 0.42 - 0.22 * share + 0.06 * cosine(5.0 * angle + 3.0 * share) + (share < 0.08 ? 0.15 : 0.0);
    });
    Part crown{leaf};
    for (std::uint32_t bough = 0; bough < 7; ++bough) {
        const double yaw = 2.0 * pi * (bough + 0.6 * chance(what, bough)) / 7.0;
        const Vector3 from{0.0, 2.6 + 0.25 * bough, 0.0};
        const Vector3 to = from + (1.4 + chance(what + 1, bough)) *
                                      direction_of({yaw, 0.35 + 0.4 * chance(what + 2, bough)});
        add_turned(wood, from, to, 10, 4, [](double share, double) { return 0.16 - 0.1 * share; });
        add_lump(crown, to, 0.75 + 0.3 * chance(what + 3, bough), 20, what + bough);
    }
    add_lump(crown, top + Vector3{0, 0.4, 0}, 1.2, 28, what + 9);
    return {wood, crown};
}

// A raised bed with a stone rim and humped soil.
std::vector<Part> bed_parts() {
    Part rim{stone};
    add_box(rim, {-2.2, -0.5, -1.3}, {2.2, 0.7, -1.0});
    add_box(rim, {-2.2, -0.5, 1.0}, {2.2, 0.7, 1.3});
    add_box(rim, {-2.2, -0.5, -1.0}, {-1.9, 0.7, 1.0});
    add_box(rim, {1.9, -0.5, -1.0}, {2.2, 0.7, 1.0});
    Part earth{soil};
    add_sheet(earth, 38, 20, [](double u, double v) {
        const double hump = 0.35 * sine(pi * u) * sine(pi * v) * hills(5, 9.0 * u, 5.0 * v);
        return Vector3{3.8 * u - 1.9, 0.55 + hump, 2.0 * v - 1.0};
    });
    return {rim, earth};
}

void furnish(Atrium& atrium) {
    atrium.place(atrium.add_mesh("floor", {floor_part()}), Vector3::Zero());
    const int terrace = atrium.add_mesh("terrace", {terrace_part()});
    atrium.place(terrace, Vector3::Zero());
    atrium.place(terrace, Vector3::Zero(), pi);
    const int wall = atrium.add_mesh("end wall", {end_wall_part()});
    atrium.place(wall, Vector3::Zero());
    atrium.place(wall, Vector3::Zero(), pi);
    const std::vector<Part> vault = vault_parts();
    atrium.place(atrium.add_mesh("vault", {vault[0]}), Vector3::Zero(), 0.0, 1.0, "glass");
    atrium.place(atrium.add_mesh("frame", {vault[1], vault[2]}), Vector3::Zero());

    const int column = atrium.add_mesh("column", {column_part()});
    for (int row = 0; row < 7; ++row) {
        for (const double x : {-11.5, 11.5}) {
            atrium.place(column, {x, 0.0, 8.0 * (row - 3)});
        }
    }
    for (std::uint32_t kind = 0; kind < 2; ++kind) {
        const std::vector<Part> parts = tree_parts(100 + 50 * kind);
        const int wood = atrium.add_mesh("trunk", {parts[0]});
        const int crown = atrium.add_mesh("crown", {parts[1]});
        for (std::uint32_t number = 0; number < 3; ++number) {
            const double x = (number % 2 == 0 ? 1.0 : -1.0) * (5.0 + 3.0 * chance(7 + kind, number));
            const double z = 18.0 * (number - 1.0) + (kind == 0 ? -5.0 : 5.0);
            const double yaw = 2.0 * pi * chance(9 + kind, number);
            const double scale = 0.9 + 0.35 * chance(11 + kind, number);
            atrium.place(wood, {x, ground(x, z), z}, yaw, scale);
            atrium.place(crown, {x, ground(x, z), z}, yaw, scale, "foliage");
        }
    }
    const int bed = atrium.add_mesh("bed", bed_parts());
    for (int row = 0; row < 4; ++row) {
        for (const double x : {-6.5, 6.5}) {
            atrium.place(bed, {x, 0.2, 14.0 * (row - 1.5)}, row % 2 == 0 ? 0.0 : 0.5 * pi);
        }
    }
    Part rock{stone};
    add_lump(rock, {0, 0.4, 0}, 0.9, 48, 31);
    const int boulder = atrium.add_mesh("boulder", {rock});
    for (std::uint32_t number = 0; number < 6; ++number) {
        const double x = 22.0 * chance(21, number) - 11.0;
        const double z = 56.0 * chance(22, number) - 28.0;
        atrium.place(boulder, {x, ground(x, z), z}, 6.28 * chance(23, number),
                     0.6 + 0.9 * chance(24, number));
    }
}

} // namespace

int main(int count, char** words) {
    if (count != 2) {
        std::fprintf(stderr, "usage: make_atrium FILE.glb\n");
        return 2;
    }
    Atrium atrium;
    furnish(atrium);
    if (!atrium.write(words[1])) {
        std::fprintf(stderr, "%s cannot be written\n", words[1]);
        return 2;
    }
}
