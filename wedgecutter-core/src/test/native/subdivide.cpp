// Divides a cage with the OpenSubdiv project's library and prints each corner of each face of the
// last level: limit position, limit normal (zeros where it has none) and texture coordinate.
// Input, all numbers: levels boundary seams; faces and counts; corners; points and x y z;
// creases as a b sharpness; peaks as point sharpness; coordinates and u v; corners' coordinates.
#include <cmath>
#include <cstdio>
#include <iostream>
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/topologyDescriptor.h>
#include <vector>

using namespace OpenSubdiv;

template <int N> struct Value {
  float v[N];
  void Clear(void * = 0) {
    for (float &x : v) x = 0;
  }
  void AddWithWeight(Value const &o, float w) {
    for (int i = 0; i < N; ++i) v[i] += w * o.v[i];
  }
};

static int number() {
  int n;
  std::cin >> n;
  return n;
}

static std::vector<int> numbers(int count) {
  std::vector<int> out(count);
  for (int &n : out) std::cin >> n;
  return out;
}

template <int N> static std::vector<Value<N>> values(int count) {
  std::vector<Value<N>> out(count);
  for (Value<N> &x : out)
    for (float &f : x.v) std::cin >> f;
  return out;
}

int main() {
  int levels = number(), boundary = number(), seams = number();
  int faces = number();
  std::vector<int> counts = numbers(faces);
  int corners = 0;
  for (int c : counts) corners += c;
  std::vector<int> of = numbers(corners);
  int points = number();
  std::vector<Value<3>> at = values<3>(points);
  int creases = number();
  std::vector<int> ends;
  std::vector<float> sharp;
  for (int i = 0; i < creases; ++i) {
    ends.push_back(number());
    ends.push_back(number());
    float s;
    std::cin >> s;
    sharp.push_back(s);
  }
  int peaks = number();
  std::vector<int> peak;
  std::vector<float> peakSharp;
  for (int i = 0; i < peaks; ++i) {
    peak.push_back(number());
    float s;
    std::cin >> s;
    peakSharp.push_back(s);
  }
  int coordinates = number();
  std::vector<Value<2>> uv = values<2>(coordinates);
  std::vector<int> uvOf = numbers(corners);

  Far::TopologyDescriptor d;
  d.numVertices = points;
  d.numFaces = faces;
  d.numVertsPerFace = counts.data();
  d.vertIndicesPerFace = of.data();
  d.numCreases = creases;
  d.creaseVertexIndexPairs = ends.data();
  d.creaseWeights = sharp.data();
  d.numCorners = peaks;
  d.cornerVertexIndices = peak.data();
  d.cornerWeights = peakSharp.data();
  Far::TopologyDescriptor::FVarChannel channel;
  channel.numValues = coordinates;
  channel.valueIndices = uvOf.data();
  d.numFVarChannels = 1;
  d.fvarChannels = &channel;
  Sdc::Options o;
  o.SetVtxBoundaryInterpolation((Sdc::Options::VtxBoundaryInterpolation)boundary);
  o.SetFVarLinearInterpolation((Sdc::Options::FVarLinearInterpolation)seams);
  typedef Far::TopologyRefinerFactory<Far::TopologyDescriptor> Factory;
  Far::TopologyRefiner *refiner =
      Factory::Create(d, Factory::Options(Sdc::SCHEME_CATMARK, o));
  Far::TopologyRefiner::UniformOptions uniform(levels);
  uniform.fullTopologyInLastLevel = true;
  refiner->RefineUniform(uniform);
  Far::PrimvarRefiner primvars(*refiner);
  for (int l = 1; l <= levels; ++l) {
    std::vector<Value<3>> next(refiner->GetLevel(l).GetNumVertices());
    std::vector<Value<2>> nextUv(refiner->GetLevel(l).GetNumFVarValues(0));
    Value<3> *from = at.data(), *to = next.data();
    Value<2> *fromUv = uv.data(), *toUv = nextUv.data();
    primvars.Interpolate(l, from, to);
    primvars.InterpolateFaceVarying(l, fromUv, toUv);
    at = next;
    uv = nextUv;
  }
  std::vector<Value<3>> limit(at.size()), du(at.size()), dv(at.size());
  std::vector<Value<2>> limitUv(uv.size());
  Value<3> *from = at.data(), *to = limit.data(), *a = du.data(), *b = dv.data();
  Value<2> *fromUv = uv.data(), *toUv = limitUv.data();
  primvars.Limit(from, to, a, b);
  primvars.LimitFaceVarying(fromUv, toUv);
  Far::TopologyLevel const &last = refiner->GetLevel(levels);
  for (int f = 0; f < last.GetNumFaces(); ++f) {
    Far::ConstIndexArray v = last.GetFaceVertices(f), w = last.GetFaceFVarValues(f);
    for (int c = 0; c < v.size(); ++c) {
      float *p = limit[v[c]].v, *s = du[v[c]].v, *t = dv[v[c]].v, *u = limitUv[w[c]].v;
      float n[3] = {s[1] * t[2] - s[2] * t[1], s[2] * t[0] - s[0] * t[2], s[0] * t[1] - s[1] * t[0]};
      float length = std::sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
      float scale = length > 0 ? 1 / length : 0;
      std::printf("%.9g %.9g %.9g %.9g %.9g %.9g %.9g %.9g\n", p[0], p[1], p[2], n[0] * scale,
                  n[1] * scale, n[2] * scale, u[0], u[1]);
    }
  }
  delete refiner;
}
