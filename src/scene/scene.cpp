#include <avrek/scene/scene.h>

#include <algorithm>

namespace avrek {

const SceneBody* find_body(const Scene& scene, BodyId id) {
    const auto found = std::find_if(scene.bodies.begin(), scene.bodies.end(),
                                    [id](const SceneBody& body) { return body.id == id; });
    return found == scene.bodies.end() ? nullptr : &*found;
}

SceneBody* find_body(Scene& scene, BodyId id) {
    return const_cast<SceneBody*>(find_body(static_cast<const Scene&>(scene), id));
}

} // namespace avrek
