#pragma once

#include "shader_job.h"

#include <QRegularExpression>
#include <QString>

#include <stdexcept>

#include <glslang/SPIRV/GlslangToSpv.h>
#include <glslang/Public/ResourceLimits.h>
#include <glslang/Public/ShaderLang.h>
#include <spirv_cross/spirv_cross_c.h>

namespace ripple::tests {

/// SPIR-V of a vertex stage in HLSL, by the reference compiler. Empty, with a warning, if it does not
/// compile. `optimised`: textures that are handed on are put in their places, which running it wants; the
/// optimiser of Debian 12 dies of folding some whole stages.
inline std::vector<unsigned> spirvOfHlsl(const std::string& text, bool optimised = true) {
    static const bool kReady = glslang::InitializeProcess();
    if (!kReady) {
        return {};
    }
    const char* source = text.c_str();
    glslang::TShader shader(EShLangVertex);
    shader.setStrings(&source, 1);
    shader.setEntryPoint("main");
    shader.setSourceEntryPoint("main");
    shader.setEnvInput(glslang::EShSourceHlsl, EShLangVertex, glslang::EShClientVulkan, 100);
    shader.setEnvClient(glslang::EShClientVulkan, glslang::EShTargetVulkan_1_0);
    shader.setEnvTarget(glslang::EShTargetSpv, glslang::EShTargetSpv_1_0);
    shader.setAutoMapLocations(true);
    shader.setAutoMapBindings(true);
    const auto messages = static_cast<EShMessages>(EShMsgSpvRules | EShMsgVulkanRules | EShMsgReadHlsl);
    glslang::TProgram program;
    if (!shader.parse(GetDefaultResources(), 100, false, messages)) {
        qWarning("%s\n%s", shader.getInfoLog(), source);
        return {};
    }
    program.addShader(&shader);
    if (!program.link(messages) || !program.mapIO()) {
        qWarning("%s", program.getInfoLog());
        return {};
    }
    std::vector<unsigned> spirv;
    glslang::SpvOptions options;
    options.disableOptimizer = !optimised;
    glslang::GlslangToSpv(*program.getIntermediate(EShLangVertex), spirv, &options);
    return spirv;
}

/// The same stage in GLSL 3.30. A texture and its sampler become one, which has the texture's name.
inline std::string glslOfSpirv(const std::vector<unsigned>& spirv) {
    spvc_context context = nullptr;
    const auto require = [&](spvc_result result) {
        if (result != SPVC_SUCCESS) {
            throw std::runtime_error(std::string("SPIR-V can't be translated: ") +
                                     spvc_context_get_last_error_string(context));
        }
    };
    require(spvc_context_create(&context));
    spvc_parsed_ir ir = nullptr;
    require(spvc_context_parse_spirv(context, spirv.data(), spirv.size(), &ir));
    spvc_compiler compiler = nullptr;
    require(spvc_context_create_compiler(context, SPVC_BACKEND_GLSL, ir, SPVC_CAPTURE_MODE_TAKE_OWNERSHIP,
                                         &compiler));
    spvc_compiler_options options = nullptr;
    require(spvc_compiler_create_compiler_options(compiler, &options));
    spvc_compiler_options_set_uint(options, SPVC_COMPILER_OPTION_GLSL_VERSION, 330);
    spvc_compiler_options_set_bool(options, SPVC_COMPILER_OPTION_GLSL_ES, SPVC_FALSE);
    spvc_compiler_options_set_bool(options, SPVC_COMPILER_OPTION_GLSL_ENABLE_420PACK_EXTENSION, SPVC_FALSE);
    require(spvc_compiler_install_compiler_options(compiler, options));
    spvc_variable_id none = 0; // for textures that are fetched from without a sampler
    require(spvc_compiler_build_dummy_sampler_for_combined_images(compiler, &none));
    require(spvc_compiler_build_combined_image_samplers(compiler));
    const spvc_combined_image_sampler* samplers = nullptr;
    std::size_t count = 0;
    require(spvc_compiler_get_combined_image_samplers(compiler, &samplers, &count));
    for (std::size_t i = 0; i < count; ++i) {
        const std::string name = spvc_compiler_get_name(compiler, samplers[i].image_id);
        spvc_compiler_set_name(compiler, samplers[i].combined_id, name.c_str());
    }
    const char* text = nullptr;
    require(spvc_compiler_compile(compiler, &text));
    const std::string glsl = text;
    spvc_context_destroy(context);
    return glsl;
}

/// A complete vertex stage in HLSL.
inline std::string hlslStage(const ShaderJob& job) {
    std::string stage = job.code();
    for (std::size_t t = 0; t < job.textures.size(); ++t) {
        const std::string n = std::to_string(t);
        stage += "Texture2D<float4> t" + n + " : register(t" + n + ");\nSamplerState t" + n +
                 "_sampler : register(s" + n + ");\n";
    }
    stage += "void main(";
    for (std::size_t i = 0; i < job.inputs; ++i) {
        stage += "float4 i" + std::to_string(i) + " : INPUT" + std::to_string(i) + ", ";
    }
    return stage +
           "out float4 o0 : OUT0, out float4 o1 : OUT1, out float4 o2 : OUT2, out float4 place : "
           "SV_Position)\n{\n"
           "    o0 = o1 = o2 = place = float4(0.0, 0.0, 0.0, 0.0);\n" +
           job.statements() + "}\n";
}

/// Compiled by the reference compiler, translated to GLSL, and run as that. Empty if it does not compile.
inline std::vector<ShaderRow> runHlsl(const ShaderJob& job) {
    const std::vector<unsigned> spirv = spirvOfHlsl(hlslStage(job), !job.textures.empty());
    if (spirv.empty()) {
        return {};
    }
    QString text = QString::fromStdString(glslOfSpirv(spirv));
    for (std::size_t o = 0; o < ShaderJob::kOutputs; ++o) {
        const QRegularExpression out("\\bout vec4 (\\w*o" + QString::number(o) + ")\\b");
        text.replace(QRegularExpression("\\b" + out.match(text).captured(1) + "\\b"),
                     "o" + QString::number(o));
    }
    return runStage(job, text.toStdString());
}

} // namespace ripple::tests
