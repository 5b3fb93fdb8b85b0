#include "io/gltf_accessor.h"

#include <fmt/format.h>
#include <tiny_gltf.h>

#include <cmath>
#include <cstring>

namespace io {
namespace {

constexpr std::size_t kMostElements = 100'000'000;
constexpr std::size_t kMostWithoutData = 1'000'000;  // which a file of a few bytes can ask for

/// A checked run of equally spaced elements.
struct Run {
    const unsigned char* first = nullptr;
    std::size_t stride = 0;
};

std::size_t componentSize(int type) {
    switch (type) {
        case TINYGLTF_COMPONENT_TYPE_BYTE:
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE: return 1;
        case TINYGLTF_COMPONENT_TYPE_SHORT:
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT: return 2;
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
        case TINYGLTF_COMPONENT_TYPE_FLOAT: return 4;
        default: throw MalformedModel(fmt::format("component type {} is unknown", type));
    }
}

int componentCount(int type) {
    switch (type) {
        case TINYGLTF_TYPE_SCALAR: return 1;
        case TINYGLTF_TYPE_VEC2: return 2;
        case TINYGLTF_TYPE_VEC3: return 3;
        case TINYGLTF_TYPE_VEC4: return 4;
        default: return 0;
    }
}

Run runOf(const tinygltf::Model& model, int viewIndex, std::size_t offset, std::size_t count, std::size_t elementSize,
          const std::string& what) {
    if (viewIndex < 0 || static_cast<std::size_t>(viewIndex) >= model.bufferViews.size())
        throw MalformedModel(fmt::format("{}: buffer view {} does not exist", what, viewIndex));
    const tinygltf::BufferView& view = model.bufferViews[static_cast<std::size_t>(viewIndex)];
    if (view.buffer < 0 || static_cast<std::size_t>(view.buffer) >= model.buffers.size())
        throw MalformedModel(fmt::format("{}: buffer {} does not exist", what, view.buffer));
    const auto& data = model.buffers[static_cast<std::size_t>(view.buffer)].data;
    if (view.byteOffset > data.size() || view.byteLength > data.size() - view.byteOffset)
        throw MalformedModel(fmt::format("{}: buffer view {} reaches past its buffer", what, viewIndex));
    const std::size_t stride = view.byteStride != 0 ? view.byteStride : elementSize;
    if (stride == 0 || stride < elementSize || stride > 252 + elementSize)
        throw MalformedModel(fmt::format("{}: stride {} is impossible", what, stride));
    if (count > 0 && (offset > view.byteLength || elementSize > view.byteLength - offset ||
                      (count - 1) > (view.byteLength - offset - elementSize) / stride))
        throw MalformedModel(fmt::format("{}: {} elements reach past buffer view {}", what, count, viewIndex));
    return {data.data() + view.byteOffset + offset, stride};
}

template <class T>
T load(const unsigned char* from) {
    T value;
    std::memcpy(&value, from, sizeof value);
    return value;
}

float component(const unsigned char* from, int type, bool normalised) {
    switch (type) {
        case TINYGLTF_COMPONENT_TYPE_BYTE: {
            const auto v = static_cast<float>(load<std::int8_t>(from));
            return normalised ? std::max(v / 127.0F, -1.0F) : v;
        }
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE: {
            const auto v = static_cast<float>(load<std::uint8_t>(from));
            return normalised ? v / 255.0F : v;
        }
        case TINYGLTF_COMPONENT_TYPE_SHORT: {
            const auto v = static_cast<float>(load<std::int16_t>(from));
            return normalised ? std::max(v / 32767.0F, -1.0F) : v;
        }
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT: {
            const auto v = static_cast<float>(load<std::uint16_t>(from));
            return normalised ? v / 65535.0F : v;
        }
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT: return static_cast<float>(load<std::uint32_t>(from));
        default: return load<float>(from);
    }
}

std::uint32_t index(const unsigned char* from, int type, const std::string& what) {
    switch (type) {
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE: return load<std::uint8_t>(from);
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT: return load<std::uint16_t>(from);
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT: return load<std::uint32_t>(from);
        default: throw MalformedModel(what + ": indices must be unsigned integers");
    }
}

const tinygltf::Accessor& accessorAt(const tinygltf::Model& model, int accessor, int components,
                                     const std::string& what) {
    if (accessor < 0 || static_cast<std::size_t>(accessor) >= model.accessors.size())
        throw MalformedModel(fmt::format("{}: accessor {} does not exist", what, accessor));
    const tinygltf::Accessor& a = model.accessors[static_cast<std::size_t>(accessor)];
    if (a.count > kMostElements) throw MalformedModel(fmt::format("{}: {} elements are too many", what, a.count));
    if (a.bufferView < 0 && a.count > kMostWithoutData)
        throw MalformedModel(fmt::format("{}: {} elements without data are too many; at most {} are read", what,
                                         a.count, kMostWithoutData));
    if (componentCount(a.type) != components)
        throw MalformedModel(fmt::format("{}: {} components were expected", what, components));
    return a;
}

void putSparse(const tinygltf::Model& model, const tinygltf::Accessor& a, std::vector<float>& values, std::size_t n,
               const std::string& what) {
    if (!a.sparse.isSparse) return;
    if (a.sparse.count < 0 || static_cast<std::size_t>(a.sparse.count) > a.count)
        throw MalformedModel(what + ": has more sparse values than elements");
    const auto count = static_cast<std::size_t>(a.sparse.count);
    const std::size_t indexSize = componentSize(a.sparse.indices.componentType);
    const std::size_t size = componentSize(a.componentType);
    if (a.sparse.indices.byteOffset < 0 || a.sparse.values.byteOffset < 0)
        throw MalformedModel(what + ": has a negative offset");
    const Run at = runOf(model, a.sparse.indices.bufferView, static_cast<std::size_t>(a.sparse.indices.byteOffset),
                         count, indexSize, what);
    const Run with = runOf(model, a.sparse.values.bufferView, static_cast<std::size_t>(a.sparse.values.byteOffset),
                           count, size * n, what);
    for (std::size_t i = 0; i < count; ++i) {
        const std::uint32_t element = index(at.first + i * at.stride, a.sparse.indices.componentType, what);
        if (element >= a.count) throw MalformedModel(fmt::format("{}: sparse index {} is out of range", what, element));
        for (std::size_t k = 0; k < n; ++k)
            values[element * n + k] = component(with.first + i * with.stride + k * size, a.componentType, a.normalized);
    }
}

}  // namespace

std::vector<float> readFloats(const tinygltf::Model& model, int accessor, int components, const std::string& what) {
    const tinygltf::Accessor& a = accessorAt(model, accessor, components, what);
    const auto n = static_cast<std::size_t>(components);
    const std::size_t size = componentSize(a.componentType);
    std::vector<float> values(a.count * n, 0.0F);
    if (a.bufferView >= 0) {
        const Run run = runOf(model, a.bufferView, a.byteOffset, a.count, size * n, what);
        for (std::size_t i = 0; i < a.count; ++i)
            for (std::size_t k = 0; k < n; ++k)
                values[i * n + k] = component(run.first + i * run.stride + k * size, a.componentType, a.normalized);
    }
    putSparse(model, a, values, n, what);
    for (float v : values)
        if (!std::isfinite(v) || std::abs(v) > 1e7F)
            throw MalformedModel(what + ": holds a number that is not finite, or beyond 10,000 km");
    return values;
}

std::vector<std::uint32_t> readIndices(const tinygltf::Model& model, int accessor, std::size_t vertexCount) {
    const std::string what = "indices";
    const tinygltf::Accessor& a = accessorAt(model, accessor, 1, what);
    const std::size_t size = componentSize(a.componentType);
    std::vector<std::uint32_t> values(a.count, 0);
    if (a.bufferView >= 0) {
        const Run run = runOf(model, a.bufferView, a.byteOffset, a.count, size, what);
        for (std::size_t i = 0; i < a.count; ++i) values[i] = index(run.first + i * run.stride, a.componentType, what);
    }
    if (a.sparse.isSparse) throw MalformedModel("indices: sparse ones are not read");
    for (std::uint32_t v : values)
        if (v >= vertexCount)
            throw MalformedModel(fmt::format("indices: {} is beyond the {} vertices", v, vertexCount));
    return values;
}

std::string readView(const tinygltf::Model& model, int view, const std::string& what) {
    const Run start = runOf(model, view, 0, 0, 1, what);
    return {reinterpret_cast<const char*>(start.first), model.bufferViews[static_cast<std::size_t>(view)].byteLength};
}

}  // namespace io
