#include "gltf.h"

#include "faults.h"
#include <avrek/data/nearest_name.h>

#define TINYGLTF_NO_STB_IMAGE
#define TINYGLTF_NO_STB_IMAGE_WRITE
#define TINYGLTF_NO_EXTERNAL_IMAGE
#include <tiny_gltf.h>

#include <algorithm>
#include <cstring>
#include <map>
#include <set>

namespace avrek {

namespace {

using detail::Faults;
using detail::printable;

constexpr std::size_t max_triangles = 50'000'000;
constexpr std::size_t max_nodes = 1'000'000;
constexpr float farthest = 1e6F;

bool ignore_image(tinygltf::Image*, int, std::string*, std::string*, int, int, const unsigned char*, int,
                  void*) {
    return true;
}

// One line of what the parser said.
std::string first_line(const std::string& text) {
    return printable(text.substr(0, text.find('\n')), 200);
}

// Elements of an accessor, once they are known to lie within their buffer.
struct Elements {
    const unsigned char* data = nullptr;
    std::size_t stride = 0;
    std::size_t count = 0;
};

class Reader {
  public:
    Reader(const tinygltf::Model& model, std::string_view file, std::span<const SurfaceSpec> surfaces,
           Faults& faults)
        : model_(model), file_(file), faults_(faults) {
        for (const SurfaceSpec& surface : surfaces) {
            names_.push_back(surface.id);
        }
    }

    std::vector<LevelMesh> read() {
        check_extensions();
        std::vector<int> roots;
        if (!model_.scenes.empty()) {
            const auto scene = static_cast<std::size_t>(std::max(model_.defaultScene, 0));
            if (scene >= model_.scenes.size()) {
                fault("scene", "is not one of the file's scenes",
                      "less than " + std::to_string(model_.scenes.size()));
                return {};
            }
            roots = model_.scenes[scene].nodes;
        }
        seen_.assign(model_.nodes.size(), false);
        for (const int root : roots) {
            add_node(root);
        }
        if (meshes_.empty() && !faults_.has_errors()) {
            fault({}, "there is no mesh in the file's scene", "a scene with nodes that have meshes");
        }
        return std::move(meshes_);
    }

  private:
    void fault(const std::string& where, const std::string& message, const std::string& allowed,
               Severity severity = Severity::error, const std::string& suggestion = {}) {
        faults_.add(file_, {0, 0}, {where, message, allowed, suggestion, severity});
    }

    void check_extensions() {
        for (const std::string& name : model_.extensionsRequired) {
            if (!name.starts_with("KHR_materials_") && !name.starts_with("KHR_texture_")) {
                fault("extensionsRequired",
                      "needs the extension '" + printable(name) + "', which is not known here",
                      "plain geometry: export without compression and quantization");
            }
        }
    }

    struct Visit {
        int node;
        Eigen::Matrix4d parent;
        CollisionLayer layer;
    };

    // A node and all below it, without recursion: a file may be as deep as it likes.
    void add_node(int root) {
        std::vector<Visit> open{{root, Eigen::Matrix4d::Identity(), CollisionLayer::level}};
        while (!open.empty()) {
            const Visit visit = open.back();
            open.pop_back();
            const auto index = static_cast<std::size_t>(visit.node);
            const std::string where = "node " + std::to_string(visit.node);
            if (visit.node < 0 || index >= model_.nodes.size() || index >= max_nodes) {
                fault(where, "is not one of the file's nodes",
                      "less than " + std::to_string(model_.nodes.size()));
                continue;
            }
            if (seen_[index]) {
                fault(where, "has two parents, or is below itself", "nodes that make trees");
                continue;
            }
            seen_[index] = true;
            const tinygltf::Node& node = model_.nodes[index];
            const Eigen::Matrix4d transform = visit.parent * transform_of(node);
            const CollisionLayer layer = layer_of(node, where, visit.layer);
            if (!transform.allFinite()) {
                fault(where, "has a transform that is not finite", "finite numbers");
            } else if (node.mesh >= 0) {
                add_mesh(node.mesh, where, transform, layer);
            }
            for (auto child = node.children.rbegin(); child != node.children.rend(); ++child) {
                open.push_back({*child, transform, layer});
            }
        }
    }

    static Eigen::Matrix4d transform_of(const tinygltf::Node& node) {
        if (node.matrix.size() == 16) {
            return Eigen::Map<const Eigen::Matrix4d>(node.matrix.data()); // both by columns
        }
        Eigen::Matrix4d transform = Eigen::Matrix4d::Identity();
        if (node.scale.size() == 3) {
            transform.diagonal().head<3>() = Eigen::Map<const Eigen::Vector3d>(node.scale.data());
        }
        if (node.rotation.size() == 4) {
            Eigen::Quaterniond rotation{node.rotation[3], node.rotation[0], node.rotation[1],
                                        node.rotation[2]};
            const double norm = rotation.norm();
            if (norm > 0.0) {
                rotation.coeffs() /= norm;
                transform.topLeftCorner<3, 3>() =
                    rotation.toRotationMatrix() * transform.topLeftCorner<3, 3>();
            }
        }
        if (node.translation.size() == 3) {
            transform.topRightCorner<3, 1>() = Eigen::Map<const Eigen::Vector3d>(node.translation.data());
        }
        return transform;
    }

    CollisionLayer layer_of(const tinygltf::Node& node, const std::string& where, CollisionLayer inherited) {
        std::optional<CollisionLayer> layer = find_collision_layer(node.name);
        if (node.extras.IsObject() && node.extras.Has("layer")) {
            const tinygltf::Value& value = node.extras.Get("layer");
            const std::string name = value.IsString() ? value.Get<std::string>() : std::string{};
            layer = find_collision_layer(name);
            if (!layer || *layer == CollisionLayer::bodies) {
                fault(where + ".extras.layer", "is \"" + printable(name) + '"',
                      "\"level\", \"glass\", \"foliage\" or \"special-1\" to \"special-4\"", Severity::error,
                      nearest_name(name, std::vector<std::string>{"level", "glass", "foliage", "special-1"}));
                return inherited;
            }
        }
        return layer && *layer != CollisionLayer::bodies ? *layer : inherited;
    }

    void add_mesh(int mesh, const std::string& node, const Eigen::Matrix4d& transform, CollisionLayer layer) {
        const auto index = static_cast<std::size_t>(mesh);
        if (index >= model_.meshes.size()) {
            fault(node + ".mesh", "is not one of the file's meshes",
                  "less than " + std::to_string(model_.meshes.size()));
            return;
        }
        const auto& primitives = model_.meshes[index].primitives;
        for (std::size_t number = 0; number < primitives.size(); ++number) {
            const std::string where =
                "mesh " + std::to_string(mesh) + ", primitive " + std::to_string(number);
            if (failed_.contains(where)) {
                continue; // has been reported
            }
            if (!add_primitive(primitives[number], where, transform, layer)) {
                failed_.insert(where);
            }
        }
    }

    bool add_primitive(const tinygltf::Primitive& primitive, const std::string& where,
                       const Eigen::Matrix4d& transform, CollisionLayer layer) {
        const int mode = primitive.mode < 0 ? TINYGLTF_MODE_TRIANGLES : primitive.mode;
        if (mode != TINYGLTF_MODE_TRIANGLES && mode != TINYGLTF_MODE_TRIANGLE_STRIP &&
            mode != TINYGLTF_MODE_TRIANGLE_FAN) {
            fault(where, "is points or lines, which nothing can hit: left out", "triangles",
                  Severity::warning);
            return false;
        }
        LevelMesh mesh;
        std::vector<std::uint32_t> corners;
        if (!read_vertices(primitive, where, transform, mesh.vertices) ||
            !read_corners(primitive, where, mesh.vertices.size(), corners)) {
            return false;
        }
        const SurfaceId surface = surface_of_material(primitive.material, where);
        const bool mirrored = transform.topLeftCorner<3, 3>().determinant() < 0.0;
        const std::size_t step = mode == TINYGLTF_MODE_TRIANGLES ? 3 : 1;
        for (std::size_t at = 0; at + 2 < corners.size(); at += step) {
            MeshTriangle triangle{{corners[at], corners[at + 1], corners[at + 2]}, surface, layer};
            if (mode == TINYGLTF_MODE_TRIANGLE_FAN) {
                triangle.corners[0] = corners[0];
            }
            const bool odd = mode == TINYGLTF_MODE_TRIANGLE_STRIP && at % 2 == 1;
            if (mirrored != odd) {
                std::swap(triangle.corners[1], triangle.corners[2]);
            }
            mesh.triangles.push_back(triangle);
        }
        triangles_ += mesh.triangles.size();
        if (triangles_ > max_triangles) {
            fault(where, "makes too many triangles",
                  "at most " + std::to_string(max_triangles) + " in a file");
            return false;
        }
        meshes_.push_back(std::move(mesh));
        return true;
    }

    SurfaceId surface_of_material(int material, const std::string& where) {
        if (material < 0) {
            return {};
        }
        if (static_cast<std::size_t>(material) >= model_.materials.size()) {
            fault(where + ".material", "is not one of the file's materials",
                  "less than " + std::to_string(model_.materials.size()));
            return {};
        }
        const std::string& name = model_.materials[static_cast<std::size_t>(material)].name;
        const auto found = std::find(names_.begin(), names_.end(), name);
        if (found != names_.end()) {
            return static_cast<SurfaceId>(found - names_.begin() + 1);
        }
        if (unknown_.insert(name).second && !names_.empty()) {
            fault("material " + std::to_string(material),
                  "no surface is called '" + printable(name) + "': it is plain",
                  "the name of a surface of the arsenal", Severity::warning, nearest_name(name, names_));
        }
        return {};
    }

    bool read_vertices(const tinygltf::Primitive& primitive, const std::string& where,
                       const Eigen::Matrix4d& transform, std::vector<MeshVertex>& vertices) {
        const auto position = primitive.attributes.find("POSITION");
        if (position == primitive.attributes.end()) {
            fault(where, "has no POSITION", "the positions of its vertices");
            return false;
        }
        const std::string place = where + ".POSITION";
        Elements elements;
        if (!find_elements(position->second, place, TINYGLTF_TYPE_VEC3, {TINYGLTF_COMPONENT_TYPE_FLOAT},
                           "three 32-bit floats each", elements)) {
            return false;
        }
        std::size_t bad = 0;
        vertices.reserve(elements.count);
        for (std::size_t index = 0; index < elements.count; ++index) {
            std::array<float, 3> values{};
            std::memcpy(values.data(), elements.data + index * elements.stride, sizeof values);
            const Eigen::Vector4d local{values[0], values[1], values[2], 1.0};
            const MeshVertex vertex = (transform * local).head<3>().cast<float>();
            bad += vertex.allFinite() && vertex.cwiseAbs().maxCoeff() <= farthest ? 0 : 1;
            vertices.push_back(vertex);
        }
        if (bad > 0) {
            fault(place,
                  std::to_string(bad) + " of " + std::to_string(elements.count) +
                      " vertices are not finite or far away",
                  "within 1000 km of the origin");
        }
        return bad == 0;
    }

    bool read_corners(const tinygltf::Primitive& primitive, const std::string& where, std::size_t vertices,
                      std::vector<std::uint32_t>& corners) {
        if (primitive.indices < 0) {
            for (std::size_t vertex = 0; vertex < vertices; ++vertex) {
                corners.push_back(static_cast<std::uint32_t>(vertex));
            }
        } else {
            Elements elements;
            if (!find_elements(primitive.indices, where + ".indices", TINYGLTF_TYPE_SCALAR,
                               {TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE, TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT,
                                TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT},
                               "whole numbers of 8, 16 or 32 bits", elements)) {
                return false;
            }
            const int type = model_.accessors[static_cast<std::size_t>(primitive.indices)].componentType;
            const auto bytes =
                static_cast<std::size_t>(tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(type)));
            std::size_t beyond = 0;
            corners.reserve(elements.count);
            for (std::size_t index = 0; index < elements.count; ++index) {
                std::uint32_t corner = 0; // files and machines are little-endian
                std::memcpy(&corner, elements.data + index * elements.stride, bytes);
                beyond += corner < vertices ? 0 : 1;
                corners.push_back(corner);
            }
            if (beyond > 0) {
                fault(where + ".indices",
                      std::to_string(beyond) + " of " + std::to_string(elements.count) + " name no vertex",
                      "less than " + std::to_string(vertices));
                return false;
            }
        }
        return true;
    }

    // Where the elements of an accessor lie, if all of them lie within their buffer.
    bool find_elements(int accessor, const std::string& where, int type, const std::set<int>& components,
                       const std::string& allowed, Elements& elements) {
        const auto refuse = [&](const std::string& message, const std::string& instead) {
            fault(where, message, instead);
            return false;
        };
        if (accessor < 0 || static_cast<std::size_t>(accessor) >= model_.accessors.size()) {
            return refuse("is not one of the file's accessors",
                          "less than " + std::to_string(model_.accessors.size()));
        }
        const tinygltf::Accessor& found = model_.accessors[static_cast<std::size_t>(accessor)];
        if (found.type != type || !components.contains(found.componentType)) {
            return refuse("has elements of another kind", allowed);
        }
        if (found.sparse.isSparse || found.bufferView < 0 ||
            static_cast<std::size_t>(found.bufferView) >= model_.bufferViews.size()) {
            return refuse("has no buffer view of the file, or is sparse",
                          "a plain accessor with a buffer view");
        }
        const tinygltf::BufferView& view = model_.bufferViews[static_cast<std::size_t>(found.bufferView)];
        if (view.buffer < 0 || static_cast<std::size_t>(view.buffer) >= model_.buffers.size()) {
            return refuse("has a buffer view without a buffer", "a buffer of the file");
        }
        const auto& bytes = model_.buffers[static_cast<std::size_t>(view.buffer)].data;
        const auto component = static_cast<std::size_t>(
            tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(found.componentType)));
        const std::size_t size = component * (type == TINYGLTF_TYPE_VEC3 ? 3 : 1);
        const std::size_t stride = view.byteStride != 0 ? view.byteStride : size;
        const bool fits = stride >= size && stride <= 4096 && view.byteOffset <= bytes.size() &&
                          view.byteLength <= bytes.size() - view.byteOffset &&
                          found.byteOffset <= view.byteLength && found.count >= 1 &&
                          found.count <= bytes.size() &&
                          (found.count - 1) * stride + size <= view.byteLength - found.byteOffset;
        if (!fits) {
            return refuse("reaches beyond its buffer: " + std::to_string(found.count) + " elements of " +
                              std::to_string(size) + " bytes, in a buffer of " + std::to_string(bytes.size()),
                          "elements within the buffer");
        }
        elements = {bytes.data() + view.byteOffset + found.byteOffset, stride, found.count};
        return true;
    }

    const tinygltf::Model& model_;
    std::string file_;
    Faults& faults_;
    std::vector<std::string> names_;
    std::vector<bool> seen_;
    std::set<std::string> failed_;
    std::set<std::string> unknown_;
    std::vector<LevelMesh> meshes_;
    std::size_t triangles_ = 0;
};

} // namespace

Loaded<std::vector<LevelMesh>> detail::parse_gltf(std::span<const std::byte> bytes, const std::string& name,
                                                  bool binary, const std::string& directory,
                                                  std::span<const SurfaceSpec> surfaces) {
    Faults faults;
    Loaded<std::vector<LevelMesh>> loaded;
    tinygltf::TinyGLTF loader;
    loader.SetImageLoader(ignore_image, nullptr);
    tinygltf::Model model;
    std::string error;
    std::string warning;
    const auto size = static_cast<unsigned>(bytes.size());
    const bool parsed =
        binary ? loader.LoadBinaryFromMemory(&model, &error, &warning,
                                             reinterpret_cast<const unsigned char*>(bytes.data()), size,
                                             directory)
               : loader.LoadASCIIFromString(&model, &error, &warning,
                                            reinterpret_cast<const char*>(bytes.data()), size, directory);
    if (!parsed) {
        faults.add(
            name, {0, 0},
            {{}, "is not glTF 2.0 that can be read: " + first_line(error), "a .glb or .gltf file", {}});
    } else {
        std::vector<LevelMesh> meshes = Reader{model, name, surfaces, faults}.read();
        if (!faults.has_errors()) {
            loaded.value = std::move(meshes);
        }
    }
    loaded.diagnostics = faults.take();
    return loaded;
}

} // namespace avrek
