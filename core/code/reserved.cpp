#include "code/reserved.h"

#include <string_view>

namespace ripple::code {

namespace {

constexpr std::string_view kGlsl =
    " active asm atomic_uint attribute bool break buffer bvec2 bvec3 bvec4 case cast centroid class coherent"
    " common const continue default discard do double dmat2 dmat3 dmat4 dvec2 dvec3 dvec4 else enum extern"
    " external false filter fixed flat float for fvec2 fvec3 fvec4 goto half highp hvec2 hvec3 hvec4 if "
    "image1D"
    " image2D image3D imageBuffer imageCube in inline inout input int interface invariant isampler2D ivec2"
    " ivec3 ivec4 layout long lowp mat2 mat3 mat4 mediump namespace noinline noperspective out output"
    " partition patch precise precision public readonly resource restrict return sample sampler1D sampler2D"
    " sampler3D samplerCube shared short sizeof smooth static struct subroutine superp switch template this"
    " true typedef uint uniform union unsigned using usampler2D uvec2 uvec3 uvec4 varying vec2 vec3 vec4 void"
    " volatile while writeonly texture texelFetch main ";
constexpr std::string_view kHlsl =
    " AppendStructuredBuffer asm asm_fragment auto BlendState bool break Buffer ByteAddressBuffer case catch"
    " cbuffer centroid char class column_major compile compile_fragment CompileShader const const_cast "
    "continue"
    " ComputeShader ConsumeStructuredBuffer default delete DepthStencilState DepthStencilView discard do "
    "double"
    " DomainShader dword dynamic_cast else enum explicit export extern false float float2 float3 float4 "
    "float3x3"
    " float4x4 for friend fxgroup GeometryShader goto groupshared half half2 half3 half4 Hullshader if in "
    "inline"
    " inout InputPatch int int2 int3 int4 interface line lineadj linear LineStream long matrix min10float"
    " min12int min16float min16int min16uint mutable namespace new nointerpolation noperspective NULL "
    "operator"
    " out OutputPatch packoffset pass pixelfragment PixelShader point PointStream precise private protected"
    " public RasterizerState register reinterpret_cast RenderTargetView return row_major RWBuffer RWTexture2D"
    " sample sampler SamplerState SamplerComparisonState shared short signed sizeof snorm stateblock static"
    " static_cast string struct StructuredBuffer switch tbuffer technique template texture Texture1D "
    "Texture2D"
    " Texture3D TextureCube this throw triangle triangleadj TriangleStream true try typedef typename uint "
    "uint2"
    " uint3 uint4 uniform union unorm unsigned using vector vertexfragment VertexShader virtual void volatile"
    " while ";
constexpr std::string_view kWgsl =
    " alias break case const const_assert continue continuing default diagnostic discard else enable false fn"
    " for if let loop override requires return struct switch true var while NULL Self abstract active alignas"
    " alignof as asm asm_fragment async attribute auto await become cast catch class co_await co_return"
    " co_yield coherent column_major common compile compile_fragment concept const_cast consteval constexpr"
    " constinit crate debugger decltype delete demote demote_to_helper do dynamic_cast enum explicit export"
    " extends extern external fallthrough filter final finally friend from fxgroup get goto groupshared highp"
    " impl implements import inline instanceof interface layout lowp macro macro_rules match mediump meta mod"
    " module move mut mutable namespace new nil noexcept noinline nointerpolation non_coherent noncoherent"
    " noperspective null nullptr of operator package packoffset partition pass patch pixelfragment precise"
    " precision premerge priv protected pub public readonly ref regardless register reinterpret_cast require"
    " resource restrict self set shared sizeof smooth snorm static static_assert static_cast std subroutine"
    " super target template this thread_local throw trait try type typedef typeid typename typeof union "
    "unless"
    " unorm unsafe unsized use using varying virtual volatile wgsl where with writeonly yield bool f16 f32 "
    "i32"
    " u32 vec2f vec3f vec4f mat3x3f array atomic ptr sampler ";

} // namespace

const char* reservedIn(const std::string& word) {
    const std::string listed = " " + word + " ";
    if (kGlsl.find(listed) != std::string_view::npos || word.find("__") != std::string::npos) {
        return "GLSL";
    }
    if (kHlsl.find(listed) != std::string_view::npos) {
        return "HLSL";
    }
    return kWgsl.find(listed) != std::string_view::npos ? "WGSL" : nullptr;
}

} // namespace ripple::code
