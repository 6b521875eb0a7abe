#pragma once

#include "browser_run.h"
#include "shader_job.h"

#include <QByteArray>
#include <QJsonArray>
#include <QJsonObject>

#include <cstring>
#include <optional>

#include <glm/packing.hpp>
#include <glm/gtc/packing.hpp>

namespace ripple::tests {

/// Runs WGSL in a browser.
class WgslBrowser {
public:
    WgslBrowser()
        : browser_([](const QString&) {
              return std::optional(BrowserRun::Answer{"text/html", kPage});
          }) {}

    /// Empty if it does not compile or run; then error() says why.
    std::vector<ShaderRow> run(const ShaderJob& job) {
        QJsonArray textures;
        for (const image::Image* image : job.textures) {
            textures.append(QJsonObject{{"width", static_cast<int>(image->width)},
                                        {"height", static_cast<int>(image->height)},
                                        {"texels", base64(floatsOf(*image))}});
        }
        const QJsonObject sent{{"code", QString::fromStdString(stageOf(job))},
                               {"rows", base64(job.rows)},
                               {"count", static_cast<int>(job.rowCount())},
                               {"textures", textures}};
        const auto result = browser_.ask(sent);
        if (!result) {
            return {};
        }
        const QByteArray bytes = QByteArray::fromBase64(result->value("rows").toString().toLatin1());
        std::vector<ShaderRow> rows(static_cast<std::size_t>(bytes.size()) / sizeof(ShaderRow));
        std::memcpy(rows.data(), bytes.constData(), rows.size() * sizeof(ShaderRow));
        return rows;
    }
    /// Whether a module of `code` compiles.
    bool compiles(const std::string& code) {
        return browser_.ask({{"code", QString::fromStdString(code)}, {"only", true}}).has_value();
    }
    const QString& error() const { return browser_.error(); }

private:
    template <typename T>
    static QString base64(const std::vector<T>& values) {
        return QByteArray(reinterpret_cast<const char*>(values.data()),
                          static_cast<qsizetype>(values.size() * sizeof(T)))
            .toBase64();
    }
    /// Four floats a texel, as a sampler gives them; WebGPU need not know textures of 16 bits or three
    /// channels.
    static std::vector<float> floatsOf(const image::Image& image) {
        std::vector<float> texels;
        for (std::size_t y = 0; y < image.height; ++y) {
            for (std::size_t x = 0; x < image.width; ++x) {
                for (std::size_t c = 0; c < 4; ++c) {
                    texels.push_back(c < image.channels ? channelOf(image, image.texel(x, y), c) : 1.0f);
                }
            }
        }
        return texels;
    }
    static float channelOf(const image::Image& image, const std::byte* texel, std::size_t c) {
        const auto as = [&](auto kept) {
            std::memcpy(&kept, texel + c * sizeof kept, sizeof kept);
            return kept;
        };
        switch (image.pixel) {
        case image::Pixel::u8:
            break;
        case image::Pixel::u16:
            return static_cast<float>(as(std::uint16_t())) / 65535.0f;
        case image::Pixel::half:
            return glm::unpackHalf1x16(as(std::uint16_t()));
        case image::Pixel::float32:
            return as(float());
        }
        return static_cast<float>(as(std::uint8_t())) / 255.0f;
    }
    static std::string stageOf(const ShaderJob& job) {
        std::string stage = job.code() +
                            "@group(0) @binding(0) var<storage, read> rows: array<vec4<f32>>;\n"
                            "@group(0) @binding(1) var<storage, read_write> results: array<vec4<f32>>;\n";
        for (std::size_t t = 0; t < job.textures.size(); ++t) {
            const std::string n = std::to_string(t);
            stage += "@group(0) @binding(" + std::to_string(2 + 2 * t) + ") var t" + n +
                     ": texture_2d<f32>;\n@group(0) @binding(" + std::to_string(3 + 2 * t) + ") var t" + n +
                     "_sampler: sampler;\n";
        }
        stage += "@compute @workgroup_size(64)\nfn main(@builtin(global_invocation_id) id: vec3<u32>) {\n"
                 "    if (id.x >= " +
                 std::to_string(job.rowCount()) + "u) { return; }\n";
        for (std::size_t i = 0; i < job.inputs; ++i) {
            stage += "    let i" + std::to_string(i) + " = rows[id.x * " + std::to_string(job.inputs) +
                     "u + " + std::to_string(i) + "u];\n";
        }
        stage +=
            "    var o0 = vec4<f32>(0.0);\n    var o1 = vec4<f32>(0.0);\n    var o2 = vec4<f32>(0.0);\n" +
            job.statements();
        for (std::size_t o = 0; o < ShaderJob::kOutputs; ++o) {
            stage += "    results[id.x * 3u + " + std::to_string(o) + "u] = o" + std::to_string(o) + ";\n";
        }
        return stage + "}\n";
    }

    static constexpr const char* kPage = R"(<!doctype html><meta charset="utf-8"><script>
const floats = text => new Float32Array(Uint8Array.from(atob(text), c => c.charCodeAt(0)).buffer);
async function run(device, job) {
  const module = device.createShaderModule({code: job.code});
  const said = (await module.getCompilationInfo()).messages.filter(m => m.type === 'error');
  if (said.length) {
    return {error: said.map(m => m.lineNum + ': ' + m.message + '\n' + job.code.split('\n')[m.lineNum - 1]).join('\n')};
  }
  if (job.only) return {};
  const rows = floats(job.rows), size = job.count * 48;
  const entries = [{binding: 0, visibility: 4, buffer: {type: 'read-only-storage'}},
                   {binding: 1, visibility: 4, buffer: {type: 'storage'}}];
  const given = device.createBuffer({size: rows.byteLength, usage: GPUBufferUsage.STORAGE | GPUBufferUsage.COPY_DST});
  device.queue.writeBuffer(given, 0, rows);
  const made = device.createBuffer({size, usage: GPUBufferUsage.STORAGE | GPUBufferUsage.COPY_SRC});
  const read = device.createBuffer({size, usage: GPUBufferUsage.MAP_READ | GPUBufferUsage.COPY_DST});
  const bound = [{binding: 0, resource: {buffer: given}}, {binding: 1, resource: {buffer: made}}];
  job.textures.forEach((t, i) => {
    const texture = device.createTexture({size: [t.width, t.height], format: 'rgba32float',
                                          usage: GPUTextureUsage.TEXTURE_BINDING | GPUTextureUsage.COPY_DST});
    device.queue.writeTexture({texture}, floats(t.texels), {bytesPerRow: 16 * t.width}, [t.width, t.height]);
    entries.push({binding: 2 + 2 * i, visibility: 4, texture: {sampleType: 'unfilterable-float'}},
                 {binding: 3 + 2 * i, visibility: 4, sampler: {type: 'non-filtering'}});
    bound.push({binding: 2 + 2 * i, resource: texture.createView()},
               {binding: 3 + 2 * i, resource: device.createSampler()});
  });
  const layout = device.createBindGroupLayout({entries});
  const pipeline = await device.createComputePipelineAsync({
    layout: device.createPipelineLayout({bindGroupLayouts: [layout]}), compute: {module, entryPoint: 'main'}});
  const encoder = device.createCommandEncoder(), pass = encoder.beginComputePass();
  pass.setPipeline(pipeline);
  pass.setBindGroup(0, device.createBindGroup({layout, entries: bound}));
  pass.dispatchWorkgroups(Math.ceil(job.count / 64));
  pass.end();
  encoder.copyBufferToBuffer(made, 0, read, 0, size);
  device.queue.submit([encoder.finish()]);
  await read.mapAsync(GPUMapMode.READ);
  const bytes = new Uint8Array(read.getMappedRange());
  let text = '';
  for (let i = 0; i < bytes.length; i += 30000) text += btoa(String.fromCharCode(...bytes.subarray(i, i + 30000)));
  return {rows: text};
}
(async () => {
  let device = null, why = '';
  try { device = await (await navigator.gpu.requestAdapter()).requestDevice(); } catch (e) { why = String(e); }
  for (;;) {
    const job = await (await fetch('/job')).json();
    let result;
    try { result = device ? await run(device, job) : {error: 'no WebGPU: ' + why}; } catch (e) { result = {error: String(e)}; }
    await fetch('/result', {method: 'POST', body: JSON.stringify(result)});
  }
})();
</script>)";

    BrowserRun browser_;
};

} // namespace ripple::tests
