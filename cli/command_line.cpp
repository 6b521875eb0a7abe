#include "bake/kind.h"
#include "bake/store.h"
#include "source/clip_files.h"
#include "base/problem.h"
#include "base/progress.h"
#include "base/units.h"
#include "base/version.h"
#include "cli/code_options.h"
#include "cli/commands.h"
#include "cli/frame_options.h"
#include "cli/check.h"
#include "cli/rehearse.h"
#include "cli/scatter.h"
#include "cli/target.h"
#include "mesh/uv_sets.h"
#include "emit/dialect.h"

#include <algorithm>
#include <cerrno>
#include <charconv>
#include <cstdio>
#include <iostream>
#include <system_error>

#include <CLI/CLI.hpp>

namespace ripple::cli {

namespace {

template <typename Rows>
std::vector<std::string> namesOf(const Rows& rows) {
    std::vector<std::string> names;
    for (const auto& row : rows) {
        names.emplace_back(row.name);
    }
    return names;
}

/// "A..B", both kept, counted from 0.
std::optional<bake::FrameWindow> parseWindow(const std::string& text) {
    bake::FrameWindow window;
    const char* end = text.data() + text.size();
    const auto first = std::from_chars(text.data(), end, window.first);
    if (first.ec != std::errc() || end - first.ptr < 3 || first.ptr[0] != '.' || first.ptr[1] != '.') {
        return std::nullopt;
    }
    const auto last = std::from_chars(first.ptr + 2, end, window.last);
    if (last.ec != std::errc() || last.ptr != end || window.last < window.first) {
        return std::nullopt;
    }
    return window;
}

struct Words {
    std::string source;
    std::string out;
    bool json = false;
    cli::ScoreCall score;
    bool code = false;
    cli::CodeCall codeCall;
    source::Reading reading;
    std::string unit;
    std::string up;
    std::string range;
    std::vector<std::string> clips;
    std::string frames;
    std::size_t step = 1;
    double fps = 0.0;
    std::string kind = "vertices";
    std::string content = "offset";
    std::string store = "half";
    std::string normals = "unorm8";
    std::string close = "drop";
    cli::FrameWords frameWords;
    std::vector<std::string> clipFiles;
    std::string thin;
    std::string tolerance;
    std::string target;
    std::size_t levels = 0;
    bundle::Page page = bundle::Page::beside;
    std::string half;    ///< of a score: how much half precision may lose
    bake::Recipe recipe; ///< what needs no more reading
    source::Trust trust;
};

/// How far a source is believed: for every command that opens one.
void addTrustOptions(CLI::App& command, Words& words) {
    command.add_flag("--follow-outside", words.trust.followOutside,
                     "also read files that the source names outside its own folder and the one above");
    command
        .add_option("--import-memory", words.trust.import.gigabytes,
                    "memory for importing a scene file, in GiB")
        ->check(CLI::Range(0.1, 1024.0))
        ->capture_default_str();
    command
        .add_option("--import-seconds", words.trust.import.seconds,
                    "computing time for importing a scene file")
        ->check(CLI::Range(1.0, 1e6))
        ->capture_default_str();
}

/// How a source is read: for every command that reads one anew.
void addReadingOptions(CLI::App& command, Words& words) {
    addTrustOptions(command, words);
    source::Reading& reading = words.reading;
    command.add_option("--mesh", reading.meshes, "use this mesh; may be repeated; default: all as one");
    command.add_option("--unit", words.unit, "what one unit of the file is; default: as it says, or m")
        ->check(CLI::IsMember({"m", "cm", "mm", "in", "ft"}));
    command.add_option("--up", words.up, "the file's up axis; default: as it says, or y")
        ->check(CLI::IsMember({"x", "y", "z"}));
    command
        .add_option("--rate", reading.time.rate,
                    "frames per second at which a sequence was made; default: as it says, or 30")
        ->check(CLI::Range(0.001, 10000.0));
    command.add_option("--range", words.range, "A..B: use frames A to B of a sequence, counted from 0");
    command.add_option("--speed", reading.time.speed, "play this many times as fast")
        ->check(CLI::Range(0.001, 1000.0));
    command.add_flag("--reversed", reading.time.reversed, "play backward");
    command
        .add_option("--subdivide", reading.subdivisions, "split every triangle into four, this many times")
        ->check(CLI::Range(std::size_t{0}, source::kMostSubdivisions));
}

double metresIn(const std::string& unit) {
    return unit == "m"    ? 1.0
           : unit == "cm" ? 0.01
           : unit == "mm" ? 0.001
           : unit == "in" ? 0.0254
           : unit == "ft" ? 0.3048
                          : 0.0;
}

/// False, with words on stderr, for a range that cannot be.
bool finishReading(Words& words) {
    words.reading.metresPerUnit = metresIn(words.unit);
    words.reading.up = source::axisByName(words.up);
    if (words.range.empty()) {
        return true;
    }
    const auto window = parseWindow(words.range);
    if (window) {
        words.reading.time.range = {window->first, window->last};
    } else {
        std::cerr << "ripple: --range " << words.range
                  << ": write it as A..B with A no greater than B, as 0..95\n";
    }
    return window.has_value();
}

void addScoreOptions(CLI::App& command, Words& words) {
    command.add_option("--score", words.score.name,
                       "move the mesh by this .score file, or by a ready-made score");
    command.add_flag("--on-top", words.score.onTop,
                     "add the score to the source's clips instead of to its rest pose");
}

std::vector<std::string> kindNames() {
    std::vector<std::string> names;
    for (const bake::Kind* kind : bake::kinds()) {
        names.push_back(kind->id);
    }
    return names;
}

void addBakeOptions(CLI::App& bake, Words& words) {
    bake.add_option("SOURCE", words.source,
                    "a .gltf or .glb file, or an .obj sequence by any of its files or name_####.obj")
        ->required();
    bake.add_option("--out", words.out, "the bundle's folder; its last part is the bundle's name")
        ->required();
    bake.add_option(
        "--clips-from", words.clipFiles,
        "also take the clips of this file, which moves the same mesh or skeleton; may be repeated");
    bake.add_option("--clip", words.clips, "bake this clip; may be repeated; default: all");
    bake.add_option("--frames", words.frames, "A..B: sampled frames from A to B, both kept, counted from 0");
    bake.add_option("--step", words.step, "keep every Nth frame")->check(CLI::Range(1, 1000000));
    bake.add_option(
        "--thin", words.thin,
        "keep frames adaptively, at uneven times, so that blending stays within this length (0.5mm)");
    bake.add_option("--fps", words.fps,
                    "sampling rate; of a sequence its playback rate, or with --rate the rate that it is "
                    "sampled anew at; default: the source's, or 30")
        ->check(CLI::Range(0.001, 10000.0));
    bake.add_option("--kind", words.kind,
                    "what is baked: every vertex, rigid pieces, shapes that all frames share, or joints")
        ->check(CLI::IsMember(kindNames()))
        ->capture_default_str();
    bake.add_option("--shapes", words.recipe.shapes, "how many shapes, for --kind shapes")
        ->check(CLI::Range(1, 4096))
        ->capture_default_str();
    addFrameOptions(bake, words.frameWords, words.recipe);
    bake.add_option("--content", words.content, "positions, or offsets from the rest pose")
        ->check(CLI::IsMember({"absolute", "offset"}))
        ->capture_default_str();
    bake.add_option("--store", words.store, "how positions are stored")
        ->check(CLI::IsMember(namesOf(bake::positionStores())))
        ->capture_default_str();
    bake.add_option("--normals", words.normals, "how normals are stored")
        ->check(CLI::IsMember(namesOf(bake::normalStores())))
        ->capture_default_str();
    bake.add_flag("--normals-in-alpha", words.recipe.normalsInAlpha,
                  "pack oct16 normals into the position texture's alpha, which saves one fetch");
    bake.add_flag("--tangents", words.recipe.tangents,
                  "store the mesh's tangents too, carried along with its triangles, as normals are stored");
    bake.add_flag("--range-per-clip", words.recipe.rangePerClip, "give each clip a range of its own");
    bake.add_option("--max-width", words.recipe.maxWidth, "maximum texture width, in texels")
        ->check(CLI::Range(std::size_t{1}, bake::kLargestTexture))
        ->capture_default_str();
    bake.add_flag("--power-of-two", words.recipe.powerOfTwo, "pad both sides to powers of two");
    bake.add_flag("--test-row", words.recipe.testRow,
                  "one more row in each texture, of known values, that the code can check");
    bake.add_option("--lookup-uv", words.recipe.lookupUvSet,
                    "UV set that the lookup is written to, counted from 0 (default: the first free one)")
        ->check(CLI::Range(std::size_t{0}, mesh::kMostLookupUvSet));
    bake.add_flag("--half-uvs", words.recipe.halfUvs,
                  "the target keeps UVs as half floats: no wider than those can tell columns apart");
    addTargetOption(bake, words.target, words.page);
    bake.add_option("--levels", words.levels,
                    "levels of detail over the same vertices and textures, each of half the triangles")
        ->check(CLI::Range(std::size_t{0}, bundle::kMostLevels))
        ->capture_default_str();
    bake.add_option(
            "--close", words.close,
            "how loops close: drop (drop a last frame that repeats the first), fade:M (cross-fade the last M "
            "frames into those before the first), window (use the range that loops best), as-is (leave open)")
        ->capture_default_str();
    bake.add_option("--tolerance", words.tolerance,
                    "use the cheapest way to store whose maximum error is within this length (0.5mm) or this "
                    "share of the model's size (0.1%); --kind, --content, --store and --step stay as given");
    bake.add_flag("--json", words.json, "print the manifest as JSON");
}

/// False, with words on stderr, for a text that is no length over 0.
bool readLength(const char* option, const std::string& text, double& metres) {
    const auto length = base::parseLength(text);
    if (!length || *length <= 0.0) {
        std::cerr << "ripple: " << option << " " << text << ": write a length, as 0.5mm or 2cm\n";
        return false;
    }
    metres = *length;
    return true;
}

cli::Status runBake(const Words& words, const CLI::App& bake) {
    cli::BakeCall call;
    call.recipe = words.recipe;
    call.source = words.source;
    call.out = words.out;
    call.reading = words.reading;
    for (const std::string& file : words.clipFiles) {
        call.reading.clipFiles.push_back(source::clipFileName(words.source, file));
    }
    call.trust = words.trust;
    call.score = words.score;
    call.target = words.target;
    call.page = words.page;
    call.levels = words.levels;
    call.json = words.json;
    call.recipe.step = words.step;
    call.recipe.fps = words.fps;
    if (words.reading.time.rate == 0.0) {
        call.reading.time.rate = words.fps; // a sequence plays at the rate that is asked for
    }
    call.recipe.content = *bake::contentByName(words.content);
    call.recipe.positionStore = words.store;
    call.recipe.normalStore = words.normals;
    call.recipe.kind = bake::kindByName(words.kind);
    takeFrameOptions(words.frameWords, call.recipe);
    if (!readClosing(words.close, call.recipe, call.bestWindow) ||
        (!words.thin.empty() && !readLength("--thin", words.thin, call.recipe.thin))) {
        return cli::kUsage;
    }
    if (!words.tolerance.empty()) {
        call.tolerance = bake::parseTolerance(words.tolerance);
        if (!call.tolerance) {
            std::cerr << "ripple: --tolerance " << words.tolerance
                      << ": write a length, as 0.5mm, or a share of the size, as 0.1%\n";
            return cli::kUsage;
        }
        const bool kind = bake.count("--kind") == 0;
        call.freedom = {kind, bake.count("--content") == 0, bake.count("--store") == 0,
                        bake.count("--step") == 0 && bake.count("--thin") == 0 &&
                            bake.count("--oversampling") == 0,
                        bake.count("--blend") == 0};
    }
    std::optional<bake::FrameWindow> window;
    if (!words.frames.empty()) {
        window = parseWindow(words.frames);
        if (!window) {
            std::cerr << "ripple: --frames " << words.frames
                      << ": write it as A..B with A no greater than B, as 0..95\n";
            return cli::kUsage;
        }
    }
    for (const std::string& clip : words.clips) {
        call.recipe.clips.push_back({clip, window, std::nullopt});
    }
    call.window = window;
    return cli::bakeSource(call);
}

int parseAndRun(int argc, char** argv) {
    CLI::App app("Bakes mesh deformation into vertex animation textures, and checks such bakes.", "ripple");
    app.set_version_flag("--version", base::generatorName());
    app.require_subcommand(1);
    Words words;
    auto* info = app.add_subcommand("info", "what is in a source: meshes, clips, frames, UV sets, problems");
    info->add_option("SOURCE", words.source)->required();
    info->add_flag("--json", words.json, "print one JSON document");
    addReadingOptions(*info, words);
    auto* bake = app.add_subcommand("bake", "bake a source and write a bundle");
    addReadingOptions(*bake, words);
    addBakeOptions(*bake, words);
    addScoreOptions(*bake, words);
    auto* check = app.add_subcommand("check", "read a bundle's files again and measure them");
    cli::CheckCall checkCall;
    addCheckOptions(*check, checkCall);
    addTrustOptions(*check, words);
    addScoreOptions(*check, words);
    cli::RehearseCall rehearseCall;
    addRehearseOptions(
        *app.add_subcommand("rehearse", "what mistakes at import would do to a bundle, before they happen"),
        rehearseCall);
    auto* score = app.add_subcommand("score", "what a score is on a source: its text, or its shader code");
    addReadingOptions(*score, words);
    score->add_option("SOURCE", words.source)->required();
    score->add_option("--score", words.score.name, "a .score file, or a ready-made score")->required();
    addCodeOptions(*score, words.codeCall, words.half, words.code);
    addTargetOption(*score, words.codeCall.target, words.codeCall.page);
    score->add_option("--out", words.out,
                      "a folder: write a bundle of mesh, code, manifest and notes; or a file that ends in "
                      ".score, .glsl, .hlsl or .wgsl; default: print");
    cli::TargetCall targetCall;
    addTargetOptions(*app.add_subcommand("target", "how engines read what is shipped: axes, unit, UVs"),
                     targetCall);
    cli::ScatterCall scatterCall;
    auto* scatter = app.add_subcommand("scatter", "write many copies of a bundle's mesh as one GLB");
    addScatterOptions(*scatter, scatterCall);
    auto* demo = app.add_subcommand("demo", "write the demo scenario's sources");
    demo->add_option("--out", words.out, "folder")->required();
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? cli::kDone : cli::kUsage;
    }
    if (!finishReading(words)) {
        return cli::kUsage;
    }
    try {
        if (info->parsed()) {
            return cli::info(words.source, words.reading, words.trust, words.json);
        }
        if (bake->parsed()) {
            return runBake(words, *bake);
        }
        if (check->parsed()) {
            return cli::check(checkCall, words.trust, words.score);
        }
        if (app.got_subcommand("rehearse")) {
            return cli::rehearse(rehearseCall);
        }
        if (app.got_subcommand("target")) {
            return cli::target(targetCall);
        }
        if (score->parsed()) {
            if (!takeHalf(words.half, words.codeCall)) {
                return cli::kUsage;
            }
            if (words.code) {
                words.codeCall.languages = {emit::glsl().id()};
            }
            return cli::score(words.source, words.reading, words.trust, words.score, words.codeCall,
                              words.out);
        }
        if (scatter->parsed()) {
            return cli::scatterBundle(scatterCall);
        }
        return cli::demo(words.out);
    } catch (const base::Failure& failure) {
        std::cerr << "ripple: " << failure.problem().line() << "\n";
    } catch (const base::Cancelled&) {
        std::cerr << "ripple: stopped; nothing was written\n";
    } catch (const std::exception& error) {
        std::cerr << "ripple: " << base::unexpected(error).line() << "\n";
    }
    return cli::kBad;
}

} // namespace

int run(int argc, char** argv) {
    return cli::printed(parseAndRun(argc, argv));
}

} // namespace ripple::cli
