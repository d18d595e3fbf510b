// Reads and writes OpenEXR files by the OpenEXR project's own library, so that files made here can
// be compared with what others make of them.
//
//   peer copy IN OUT COMPRESSION KIND    every part of a file, by another compression and kind:
//                                        lines, up, tiles, mip, rip, mipup, ripup, deep, deeptiles
//   peer level IN OUT X Y                one level of a file of tiles, as lines without packing
//   peer time IN COMPRESSION ROUNDS      median milliseconds to read and to write it in memory
//
// Smaller levels that "copy" makes hold the top left of the picture.

#include <ImfChannelList.h>
#include <ImfDeepFrameBuffer.h>
#include <ImfDeepScanLineInputPart.h>
#include <ImfDeepScanLineOutputPart.h>
#include <ImfDeepTiledInputPart.h>
#include <ImfDeepTiledOutputPart.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfIO.h>
#include <ImfInputFile.h>
#include <ImfInputPart.h>
#include <ImfMultiPartInputFile.h>
#include <ImfMultiPartOutputFile.h>
#include <ImfOutputFile.h>
#include <ImfOutputPart.h>
#include <ImfPartType.h>
#include <ImfStandardAttributes.h>
#include <ImfThreading.h>
#include <ImfTileDescriptionAttribute.h>
#include <ImfTiledInputPart.h>
#include <ImfTiledOutputPart.h>

#include <algorithm>
#include <chrono>
#include <cstring>
#include <fstream>
#include <iostream>
#include <map>
#include <memory>
#include <stdexcept>
#include <string>
#include <vector>

using namespace OPENEXR_IMF_NAMESPACE;
using IMATH_NAMESPACE::Box2i;
using IMATH_NAMESPACE::V2i;

namespace {

size_t bytesOf(PixelType type) { return type == HALF ? 2 : 4; }

int sampled(int first, int last, int sampling) {
  auto down = [](int a, int b) { return a >= 0 ? a / b : -((-a + b - 1) / b); };
  return down(last, sampling) - down(first - 1, sampling);
}

struct Picture {
  Box2i window;
  std::map<std::string, std::vector<char>> channels;

  void make(const Header &header, const Box2i &box) {
    window = box;
    for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
      const Channel &k = c.channel();
      size_t count = size_t(sampled(box.min.x, box.max.x, k.xSampling)) *
                     sampled(box.min.y, box.max.y, k.ySampling);
      channels[c.name()].resize(count * bytesOf(k.type));
    }
  }

  FrameBuffer buffer(const Header &header) {
    FrameBuffer out;
    for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
      const Channel &k = c.channel();
      size_t size = bytesOf(k.type);
      size_t line = size * sampled(window.min.x, window.max.x, k.xSampling);
      // the address of the pixel (0, 0), which may lie outside
      char *base = channels[c.name()].data();
      auto down = [](int a, int b) { return a >= 0 ? a / b : -((-a + b - 1) / b); };
      int firstX = down(window.min.x - 1, k.xSampling) + 1;
      int firstY = down(window.min.y - 1, k.ySampling) + 1;
      base -= ptrdiff_t(firstX) * ptrdiff_t(size) + ptrdiff_t(firstY) * ptrdiff_t(line);
      out.insert(c.name(), Slice(k.type, base, size, line, k.xSampling, k.ySampling));
    }
    return out;
  }
};

struct DeepPicture {
  Box2i window;
  std::vector<unsigned> counts;
  std::map<std::string, std::vector<std::vector<char>>> samples;
  std::map<std::string, std::vector<char *>> pointers;

  size_t pixels() const {
    return size_t(window.max.x - window.min.x + 1) * (window.max.y - window.min.y + 1);
  }

  DeepFrameBuffer buffer(const Header &header) {
    DeepFrameBuffer out;
    ptrdiff_t width = window.max.x - window.min.x + 1;
    ptrdiff_t origin = window.min.x + window.min.y * width;
    counts.resize(pixels());
    out.insertSampleCountSlice(Slice(UINT, (char *)(counts.data() - origin), sizeof(unsigned),
                                     sizeof(unsigned) * width));
    for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
      pointers[c.name()].resize(pixels());
      out.insert(c.name(), DeepSlice(c.channel().type, (char *)(pointers[c.name()].data() - origin),
                                     sizeof(char *), sizeof(char *) * width,
                                     bytesOf(c.channel().type)));
    }
    return out;
  }

  void room(const Header &header) {
    for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
      auto &own = samples[c.name()];
      own.resize(pixels());
      for (size_t p = 0; p < pixels(); p++) {
        own[p].resize(counts[p] * bytesOf(c.channel().type) + 1);
        pointers[c.name()][p] = own[p].data();
      }
    }
  }
};

Compression compression(const std::string &name) {
  static const std::map<std::string, Compression> all = {
      {"NONE", NO_COMPRESSION},     {"RLE", RLE_COMPRESSION},   {"ZIPS", ZIPS_COMPRESSION},
      {"ZIP", ZIP_COMPRESSION},     {"PIZ", PIZ_COMPRESSION},   {"PXR24", PXR24_COMPRESSION},
      {"B44", B44_COMPRESSION},     {"B44A", B44A_COMPRESSION}, {"DWAA", DWAA_COMPRESSION},
      {"DWAB", DWAB_COMPRESSION}};
  return all.at(name);
}

Picture cropped(const Header &header, Picture &from, const Box2i &box) {
  Picture out;
  out.make(header, box);
  for (auto c = header.channels().begin(); c != header.channels().end(); ++c) {
    const Channel &k = c.channel();
    size_t size = bytesOf(k.type);
    size_t was = size * sampled(from.window.min.x, from.window.max.x, k.xSampling);
    size_t is = size * sampled(box.min.x, box.max.x, k.xSampling);
    int rows = sampled(box.min.y, box.max.y, k.ySampling);
    for (int y = 0; y < rows; y++) {
      std::memcpy(out.channels[c.name()].data() + y * is, from.channels[c.name()].data() + y * was,
                  is);
    }
  }
  return out;
}

void readFlat(MultiPartInputFile &in, int p, Picture &picture) {
  InputPart part(in, p);
  picture.make(part.header(), part.header().dataWindow());
  part.setFrameBuffer(picture.buffer(part.header()));
  part.readPixels(picture.window.min.y, picture.window.max.y);
}

void readDeep(MultiPartInputFile &in, int p, DeepPicture &picture) {
  Header header = in.header(p);
  picture.window = header.dataWindow();
  if (header.type() == DEEPTILE) {
    DeepTiledInputPart part(in, p);
    part.setFrameBuffer(picture.buffer(header));
    part.readPixelSampleCounts(0, part.numXTiles() - 1, 0, part.numYTiles() - 1);
    picture.room(header);
    part.readTiles(0, part.numXTiles() - 1, 0, part.numYTiles() - 1);
  } else {
    DeepScanLineInputPart part(in, p);
    part.setFrameBuffer(picture.buffer(header));
    part.readPixelSampleCounts(picture.window.min.y, picture.window.max.y);
    picture.room(header);
    part.readPixels(picture.window.min.y, picture.window.max.y);
  }
}

int copy(const std::string &from, const std::string &to, const std::string &packing,
         const std::string &kind) {
  MultiPartInputFile in(from.c_str());
  std::vector<Header> headers;
  bool deep = kind.rfind("deep", 0) == 0;
  bool tiles = !deep && kind != "lines" && kind != "up";
  for (int p = 0; p < in.parts(); p++) {
    Header h = in.header(p);
    h.compression() = compression(packing);
    h.lineOrder() = kind == "up" ? DECREASING_Y : INCREASING_Y;
    h.setType(deep ? (kind == "deeptiles" ? DEEPTILE : DEEPSCANLINE)
                   : (tiles ? TILEDIMAGE : SCANLINEIMAGE));
    if (tiles || kind == "deeptiles") {
      LevelMode mode = kind.rfind("mip", 0) == 0   ? MIPMAP_LEVELS
                       : kind.rfind("rip", 0) == 0 ? RIPMAP_LEVELS
                                                   : ONE_LEVEL;
      bool up = kind.size() == 5 && kind.substr(3) == "up";
      h.setTileDescription(TileDescription(13, 9, mode, up ? ROUND_UP : ROUND_DOWN));
    } else if (h.hasTileDescription()) {
      h.erase("tiles");
    }
    h.erase("chunkCount");
    if (deep && h.hasVersion() == false) {
      h.setVersion(1);
    }
    headers.push_back(h);
  }
  MultiPartOutputFile out(to.c_str(), headers.data(), int(headers.size()));
  for (int p = 0; p < in.parts(); p++) {
    if (deep) {
      DeepPicture picture;
      readDeep(in, p, picture);
      if (kind == "deeptiles") {
        DeepTiledOutputPart part(out, p);
        part.setFrameBuffer(picture.buffer(headers[p]));
        part.writeTiles(0, part.numXTiles() - 1, 0, part.numYTiles() - 1);
      } else {
        DeepScanLineOutputPart part(out, p);
        part.setFrameBuffer(picture.buffer(headers[p]));
        part.writePixels(picture.window.max.y - picture.window.min.y + 1);
      }
      continue;
    }
    Picture picture;
    readFlat(in, p, picture);
    if (!tiles) {
      OutputPart part(out, p);
      part.setFrameBuffer(picture.buffer(headers[p]));
      part.writePixels(picture.window.max.y - picture.window.min.y + 1);
      continue;
    }
    TiledOutputPart part(out, p);
    for (int ly = 0; ly < part.numYLevels(); ly++) {
      for (int lx = 0; lx < part.numXLevels(); lx++) {
        if (!part.isValidLevel(lx, ly)) {
          continue;
        }
        Picture level = cropped(headers[p], picture, part.dataWindowForLevel(lx, ly));
        part.setFrameBuffer(level.buffer(headers[p]));
        part.writeTiles(0, part.numXTiles(lx) - 1, 0, part.numYTiles(ly) - 1, lx, ly);
      }
    }
  }
  return 0;
}

int level(const std::string &from, const std::string &to, int lx, int ly) {
  MultiPartInputFile in(from.c_str());
  TiledInputPart part(in, 0);
  Header h = part.header();
  Picture picture;
  picture.make(h, part.dataWindowForLevel(lx, ly));
  part.setFrameBuffer(picture.buffer(h));
  part.readTiles(0, part.numXTiles(lx) - 1, 0, part.numYTiles(ly) - 1, lx, ly);
  Header plain(h.displayWindow(), picture.window);
  plain.channels() = h.channels();
  plain.compression() = NO_COMPRESSION;
  OutputFile out(to.c_str(), plain);
  out.setFrameBuffer(picture.buffer(plain));
  out.writePixels(picture.window.max.y - picture.window.min.y + 1);
  return 0;
}

class MemoryIn : public IStream {
 public:
  explicit MemoryIn(const std::vector<char> &all) : IStream("memory"), data(all) {}
  bool read(char c[], int n) override {
    if (at + n > data.size()) {
      throw std::runtime_error("end of memory");
    }
    std::memcpy(c, data.data() + at, n);
    at += n;
    return at < data.size();
  }
  uint64_t tellg() override { return at; }
  void seekg(uint64_t pos) override { at = pos; }

 private:
  const std::vector<char> &data;
  uint64_t at = 0;
};

class MemoryOut : public OStream {
 public:
  MemoryOut() : OStream("memory") {}
  void write(const char c[], int n) override {
    if (at + n > data.size()) {
      data.resize(std::max<size_t>(at + n, data.size() * 2));
    }
    std::memcpy(data.data() + at, c, n);
    at += n;
  }
  uint64_t tellp() override { return at; }
  void seekp(uint64_t pos) override { at = pos; }

 private:
  std::vector<char> data;
  uint64_t at = 0;
};

double median(std::vector<double> all) {
  std::sort(all.begin(), all.end());
  return all[all.size() / 2];
}

int timeIt(const std::string &from, const std::string &packing, int rounds) {
  std::ifstream file(from, std::ios::binary);
  std::vector<char> bytes((std::istreambuf_iterator<char>(file)), std::istreambuf_iterator<char>());
  std::vector<double> reads, writes;
  for (int r = 0; r < rounds; r++) {
    auto start = std::chrono::steady_clock::now();
    MemoryIn stream(bytes);
    InputFile in(stream);
    Picture picture;
    picture.make(in.header(), in.header().dataWindow());
    in.setFrameBuffer(picture.buffer(in.header()));
    in.readPixels(picture.window.min.y, picture.window.max.y);
    auto middle = std::chrono::steady_clock::now();
    Header h = in.header();
    h.compression() = compression(packing);
    MemoryOut sink;
    OutputFile out(sink, h);
    out.setFrameBuffer(picture.buffer(h));
    out.writePixels(picture.window.max.y - picture.window.min.y + 1);
    auto end = std::chrono::steady_clock::now();
    reads.push_back(std::chrono::duration<double, std::milli>(middle - start).count());
    writes.push_back(std::chrono::duration<double, std::milli>(end - middle).count());
  }
  std::cout << median(reads) << " " << median(writes) << std::endl;
  return 0;
}

}  // namespace

int main(int argc, char **argv) {
  try {
    setGlobalThreadCount(0);
    std::vector<std::string> a(argv, argv + argc);
    if (argc == 6 && a[1] == "copy") {
      return copy(a[2], a[3], a[4], a[5]);
    }
    if (argc == 6 && a[1] == "level") {
      return level(a[2], a[3], std::stoi(a[4]), std::stoi(a[5]));
    }
    if (argc == 5 && a[1] == "time") {
      return timeIt(a[2], a[3], std::stoi(a[4]));
    }
    std::cerr << "usage: peer copy|level|time …" << std::endl;
    return 2;
  } catch (const std::exception &e) {
    std::cerr << e.what() << std::endl;
    return 1;
  }
}
