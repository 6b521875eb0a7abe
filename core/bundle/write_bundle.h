#pragma once

#include "bake/bake.h"
#include "base/no_progress.h"
#include "bundle/manifest.h"
#include "source/frame_source.h"

#include <filesystem>
#include <functional>
#include <optional>
#include <string>

namespace ripple::bundle {

/// For whom a bundle is written, and what comes with its textures.
struct Delivery {
    Target target = {}; ///< default: glTF's own conventions
    Page page = Page::none;
    std::size_t levels = 0; ///< of detail; more than kMostLevels are as kMostLevels
};

/// How the source was opened, moved and sampled, and for whom; goes into the manifest so that a check can ask
/// it again.
struct SourceNote {
    Origin origin;
    double fps = 0.0;
    std::size_t step = 1;
    std::size_t fade = 0;
    std::optional<std::size_t> lookupUvSet; ///< none: the first free one
    std::size_t oversampling = 1;
    std::vector<bake::ClipChoice> clips; ///< for the rates of their own
    Delivery delivery;
};
SourceNote noteOf(const Origin& origin, const bake::Recipe& recipe, const Delivery& delivery = {});

/// The source with the axes and the unit of `target`; the source must outlive it.
std::shared_ptr<const source::FrameSource> inTarget(const source::FrameSource& source, const Target& target);
/// A bake of the source for a target: what of it is baked is as the target has it. Nothing else than
/// bake::bake() for glTF's own.
bake::Baked bakeFor(const Target& target, const source::FrameSource& source, const bake::SamplePlan& plan,
                    const bake::Recipe& recipe, const base::Progress& progress = base::noProgress());

/// Fills in what was measured: the error, and bounds that hold what is decoded.
void takeError(const bake::ErrorReport& error, Manifest& manifest);

/// A file of a bundle before it is written.
struct PlannedFile {
    std::string file;
    base::Bytes bytes;
    bool isTexture = false;
    std::string channels; ///< of a texture: those that are used, "RGB"
};
/// Gives the bytes of one of the files, as pageText() asks for them. They must outlive it.
std::function<base::Bytes(const std::string& file)> bytesIn(const std::vector<PlannedFile>& files);

/// Mesh, textures and code of a bake, encoded; and the manifest as far as it can be known before errors are
/// measured, or with the `error` that was (its files are listed, without IMPORT.md). `baked` was baked for
/// `note.delivery.target`; `name` is the bundle's.
struct EncodedBundle {
    Manifest manifest;
    std::vector<PlannedFile> files;
};
EncodedBundle encodeBundle(const source::FrameSource& source, const bake::Baked& baked,
                           const std::string& name, const SourceNote& note,
                           const base::Progress& progress = base::noProgress(),
                           const bake::ErrorReport* error = nullptr);

/// The last part of the folder's path: it names the files in it. Throws base::Failure if there is none, or if
/// it is not UTF-8, as the manifest and the code must be.
std::string bundleName(const std::filesystem::path& directory);

/// Samples, encodes and writes a bundle of the source, which was made as `origin` says, to the folder
/// `directory`, whose last part is the bundle's name. The files are written beside it first, read back and
/// measured against the source; then the folder appears whole, or what was there stays as it was. Of an
/// earlier bundle in the folder its own files are replaced and all others kept (earlier_bundle.h). Beside the
/// textures only a few poses are in memory at a time. Returns the manifest as written. Throws base::Failure,
/// also when the folder may not be written to in that way; base::Cancelled.
Manifest writeBundle(const source::FrameSource& source, const bake::Recipe& recipe, const Origin& origin,
                     const std::filesystem::path& directory, base::Progress& progress,
                     const Delivery& delivery = {});

} // namespace ripple::bundle
