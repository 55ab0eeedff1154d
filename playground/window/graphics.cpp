#include "graphics.h"

#include <epoxy/gl.h>
#include <stb_image_write.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>

namespace avrek::playground {

namespace {

// The light stands still and faces are flat, so it is in the colours already. Haze and what fades away depend
// on the eye, and differ within large faces.
constexpr const char* vertex_shader = R"(#version 330 core
layout(location = 0) in vec3 place;
layout(location = 1) in vec4 colour;
uniform mat4 to_screen;
uniform vec3 eye;
uniform float gone_at; // metres; things fade out over the last third
flat out vec4 lit;
out float rest;
void main() {
    gl_Position = to_screen * vec4(place, 1.0);
    rest = 3.0 - 3.0 * distance(eye, place) / gone_at;
    lit = colour;
}
)";

constexpr const char* fragment_shader = R"(#version 330 core
flat in vec4 lit;
in float rest;
out vec4 seen;
void main() {
    float haze = 1.0 / (1.0 + 80.0 * gl_FragCoord.w); // w is one by the depth
    seen = vec4(mix(lit.rgb, vec3(0.80, 0.87, 0.86), haze), lit.a * clamp(rest, 0.0, 1.0));
}
)";

// A corner as the card has it: its light is in its colour.
struct LitCorner {
    std::array<float, 3> at{};
    Colour colour{};
};

// The sun stands high ahead on the left; the sky lights from above. Without a normal it shines by itself.
LitCorner lit(const Corner& corner) {
    const auto& normal = corner.normal;
    const float sun = std::max(0.0F, normal[0] * 0.349F + normal[1] * 0.848F + normal[2] * 0.399F);
    const float sky = 0.5F + 0.5F * normal[1];
    const std::array<float, 3> light{0.46F + 0.20F * sky + 0.44F * sun, 0.49F + 0.22F * sky + 0.40F * sun,
                                     0.52F + 0.23F * sky + 0.32F * sun};
    LitCorner made{corner.at, corner.colour};
    const bool shines = normal[0] == 0.0F && normal[1] == 0.0F && normal[2] == 0.0F;
    for (std::size_t part = 0; part < 3 && !shines; ++part) {
        made.colour[part] = static_cast<std::uint8_t>(
            std::min(255.0F, static_cast<float>(corner.colour[part]) * light[part]));
    }
    return made;
}

std::vector<LitCorner> lit(std::span<const Corner> corners) {
    std::vector<LitCorner> made;
    made.reserve(corners.size());
    for (const Corner& corner : corners) {
        made.push_back(lit(corner));
    }
    return made;
}

void upload(std::span<const Corner> corners, GLenum use) {
    const std::vector<LitCorner> made = lit(corners);
    glBufferData(GL_ARRAY_BUFFER, static_cast<GLsizeiptr>(made.size() * sizeof(LitCorner)), made.data(), use);
}

constexpr double near_plane = 0.05;
constexpr double far_plane = 300.0;
constexpr Metres never_gone = 1e6;

std::uint32_t compiled(GLenum kind, const char* text, std::string& fault) {
    const std::uint32_t shader = glCreateShader(kind);
    glShaderSource(shader, 1, &text, nullptr);
    glCompileShader(shader);
    GLint done = 0;
    glGetShaderiv(shader, GL_COMPILE_STATUS, &done);
    if (done == 0) {
        std::array<char, 512> log{};
        glGetShaderInfoLog(shader, static_cast<GLsizei>(log.size()), nullptr, log.data());
        fault = log.data();
    }
    return shader;
}

// From the world to the screen. The camera looks along its +Z, with +X to the left.
Eigen::Matrix4f matrix_of(const Camera& camera) {
    const Eigen::Matrix3d turn = camera.pose.rotation.toRotationMatrix().transpose();
    const Vector3 shift = turn * camera.pose.position;
    Eigen::Matrix4d view = Eigen::Matrix4d::Identity();
    view.row(0) << -turn(0, 0), -turn(0, 1), -turn(0, 2), shift.x();
    view.row(1) << turn(1, 0), turn(1, 1), turn(1, 2), -shift.y();
    view.row(2) << -turn(2, 0), -turn(2, 1), -turn(2, 2), shift.z();
    const double high = 1.0 / std::tan(0.5 * camera.field_of_view);
    Eigen::Matrix4d lens = Eigen::Matrix4d::Zero();
    lens(0, 0) = high * camera.height / camera.width;
    lens(1, 1) = high;
    lens(2, 2) = -(far_plane + near_plane) / (far_plane - near_plane);
    lens(2, 3) = -2.0 * far_plane * near_plane / (far_plane - near_plane);
    lens(3, 2) = -1.0;
    return (lens * view).cast<float>();
}

} // namespace

Painter::Kept Painter::make_kept() {
    Kept kept;
    glGenVertexArrays(1, &kept.array);
    glGenBuffers(1, &kept.buffer);
    glBindVertexArray(kept.array);
    glBindBuffer(GL_ARRAY_BUFFER, kept.buffer);
    const auto at = [](std::size_t offset) { return reinterpret_cast<const void*>(offset); };
    glEnableVertexAttribArray(0);
    glVertexAttribPointer(0, 3, GL_FLOAT, GL_FALSE, sizeof(LitCorner), at(offsetof(LitCorner, at)));
    glEnableVertexAttribArray(1);
    glVertexAttribPointer(1, 4, GL_UNSIGNED_BYTE, GL_TRUE, sizeof(LitCorner),
                          at(offsetof(LitCorner, colour)));
    return kept;
}

Painter::Painter() {
    const std::uint32_t vertex = compiled(GL_VERTEX_SHADER, vertex_shader, fault_);
    const std::uint32_t fragment = compiled(GL_FRAGMENT_SHADER, fragment_shader, fault_);
    program_ = glCreateProgram();
    glAttachShader(program_, vertex);
    glAttachShader(program_, fragment);
    glLinkProgram(program_);
    glDeleteShader(vertex);
    glDeleteShader(fragment);
    passing_ = make_kept();
}

Painter::~Painter() {
    kept_.push_back(passing_);
    for (const Kept& kept : kept_) {
        glDeleteVertexArrays(1, &kept.array);
        glDeleteBuffers(1, &kept.buffer);
        glDeleteBuffers(1, &kept.numbers);
    }
    glDeleteProgram(program_);
}

std::size_t Painter::keep(std::span<const Corner> corners, std::span<const std::uint32_t> numbers) {
    kept_.push_back(make_kept());
    upload(corners, GL_STATIC_DRAW);
    glGenBuffers(1, &kept_.back().numbers);
    glBindBuffer(GL_ELEMENT_ARRAY_BUFFER, kept_.back().numbers);
    glBufferData(GL_ELEMENT_ARRAY_BUFFER, static_cast<GLsizeiptr>(numbers.size_bytes()), numbers.data(),
                 GL_STATIC_DRAW);
    return kept_.size() - 1;
}

void Painter::begin(const Camera& camera, const Frame& frame) {
    set_clear(false); // without a depth mask nothing would be cleared
    const auto width = static_cast<GLsizei>(camera.width);
    const auto height = static_cast<GLsizei>(camera.height);
    const GLint bottom = frame.window_height - frame.top - height;
    glViewport(frame.left, bottom, width, height);
    glScissor(frame.left, bottom, width, height);
    glEnable(GL_SCISSOR_TEST); // what is beside it stays
    glClearColor(0.80F, 0.87F, 0.86F, 1.0F);
    glClear(GL_COLOR_BUFFER_BIT | GL_DEPTH_BUFFER_BIT);
    glEnable(GL_DEPTH_TEST);
    set_near(false);
    glCullFace(GL_BACK);
    glUseProgram(program_);
    const Eigen::Matrix4f matrix = matrix_of(camera);
    glUniformMatrix4fv(glGetUniformLocation(program_, "to_screen"), 1, GL_FALSE, matrix.data());
    const Eigen::Vector3f eye = camera.pose.position.cast<float>();
    glUniform3f(glGetUniformLocation(program_, "eye"), eye.x(), eye.y(), eye.z());
    fade_out(never_gone);
}

void Painter::fade_out(Metres gone_at) {
    glUniform1f(glGetUniformLocation(program_, "gone_at"), static_cast<float>(gone_at));
}

void Painter::set_clear(bool clear) {
    glDepthMask(clear ? GL_FALSE : GL_TRUE);
    if (clear) {
        glDisable(GL_CULL_FACE); // panes have one side
        glEnable(GL_BLEND);
        glBlendFunc(GL_SRC_ALPHA, GL_ONE_MINUS_SRC_ALPHA);
    } else {
        glEnable(GL_CULL_FACE);
        glDisable(GL_BLEND);
    }
}

void Painter::clear() {
    glDisable(GL_SCISSOR_TEST);
    glClearColor(0.95F, 0.96F, 0.93F, 1.0F);
    glClear(GL_COLOR_BUFFER_BIT);
}

void Painter::end() {
    glDisable(GL_SCISSOR_TEST);
}

void Painter::set_near(bool near) {
    constexpr double near_part = 0.1;
    glDepthRange(near ? 0.0 : near_part, near ? near_part : 1.0);
}

void Painter::paint(std::size_t kept, std::size_t first, std::size_t count) {
    glBindVertexArray(kept_[kept].array);
    glDrawElements(GL_TRIANGLES, static_cast<GLsizei>(count), GL_UNSIGNED_INT,
                   reinterpret_cast<const void*>(first * sizeof(std::uint32_t)));
}

void Painter::paint(std::span<const Corner> corners) {
    if (corners.empty()) {
        return;
    }
    glBindVertexArray(passing_.array);
    glBindBuffer(GL_ARRAY_BUFFER, passing_.buffer);
    upload(corners, GL_STREAM_DRAW);
    glDrawArrays(GL_TRIANGLES, 0, static_cast<GLsizei>(corners.size()));
}

std::string write_picture(const std::string& file, int width, int height) {
    std::vector<std::uint8_t> pixels(static_cast<std::size_t>(width) * static_cast<std::size_t>(height) * 3);
    glPixelStorei(GL_PACK_ALIGNMENT, 1);
    glReadPixels(0, 0, width, height, GL_RGB, GL_UNSIGNED_BYTE, pixels.data());
    stbi_flip_vertically_on_write(1);
    return stbi_write_png(file.c_str(), width, height, 3, pixels.data(), width * 3) != 0
               ? std::string{}
               : "the picture " + file + " cannot be written";
}

} // namespace avrek::playground
