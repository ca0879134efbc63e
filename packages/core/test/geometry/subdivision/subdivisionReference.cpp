// Reference values of Catmull-Clark subdivision, made with OpenSubdiv (Debian's libosd-dev 3.5):
//   g++ -O1 subdivisionReference.cpp -losdCPU -o reference && ./reference > subdivision-reference.json
#include <opensubdiv/far/topologyDescriptor.h>
#include <opensubdiv/far/primvarRefiner.h>
#include <cmath>
#include <cstdio>
#include <vector>
#include <string>
using namespace OpenSubdiv;
struct Point { double p[3]; void Clear(void* = 0) { p[0] = p[1] = p[2] = 0; } void AddWithWeight(Point const& s, double w) { for (int k = 0; k < 3; k++) p[k] += w * s.p[k]; } };
struct Uv { double p[2]; void Clear(void* = 0) { p[0] = p[1] = 0; } void AddWithWeight(Uv const& s, double w) { for (int k = 0; k < 2; k++) p[k] += w * s.p[k]; } };
struct Body { std::string name; std::vector<double> points; std::vector<int> sizes, corners; std::vector<double> uvs; std::vector<int> uvCorners; std::vector<int> creases; float sharpness; };

static bool isFirst = true;
static void refine(Body const& body, const char* rule, Sdc::Options::FVarLinearInterpolation fvar, const char* rim, Sdc::Options::VtxBoundaryInterpolation boundary, int levels, bool withPlaces) {
  typedef Far::TopologyDescriptor Descriptor;
  Sdc::Options options; options.SetVtxBoundaryInterpolation(boundary); options.SetFVarLinearInterpolation(fvar);
  Descriptor desc; desc.numVertices = body.points.size() / 3; desc.numFaces = body.sizes.size(); desc.numVertsPerFace = body.sizes.data(); desc.vertIndicesPerFace = body.corners.data();
  std::vector<float> weights(body.creases.size() / 2, body.sharpness);
  desc.numCreases = body.creases.size() / 2; desc.creaseVertexIndexPairs = body.creases.data(); desc.creaseWeights = weights.data();
  Descriptor::FVarChannel channel; channel.numValues = body.uvs.size() / 2; channel.valueIndices = body.uvCorners.data();
  desc.numFVarChannels = 1; desc.fvarChannels = &channel;
  Far::TopologyRefiner* refiner = Far::TopologyRefinerFactory<Descriptor>::Create(desc, Far::TopologyRefinerFactory<Descriptor>::Options(Sdc::SCHEME_CATMARK, options));
  { Far::TopologyRefiner::UniformOptions u(levels); u.fullTopologyInLastLevel = true; refiner->RefineUniform(u); }
  std::vector<Point> points(body.points.size() / 3); for (size_t i = 0; i < points.size(); i++) for (int k = 0; k < 3; k++) points[i].p[k] = body.points[i * 3 + k];
  std::vector<Uv> uvs(body.uvs.size() / 2); for (size_t i = 0; i < uvs.size(); i++) for (int k = 0; k < 2; k++) uvs[i].p[k] = body.uvs[i * 2 + k];
  Far::PrimvarRefinerReal<double> primvar(*refiner);
  for (int level = 1; level <= levels; level++) {
    std::vector<Point> next(refiner->GetLevel(level).GetNumVertices()); std::vector<Uv> nextUv(refiner->GetLevel(level).GetNumFVarValues(0));
    Point *from = points.data(), *to = next.data(); primvar.Interpolate(level, from, to);
    Uv *fromUv = uvs.data(), *toUv = nextUv.data(); primvar.InterpolateFaceVarying(level, fromUv, toUv, 0);
    points = next; uvs = nextUv;
  }
  std::vector<Point> limit(points.size()), du(points.size()), dv(points.size());
  { Point* src = points.data(); Point* p = limit.data(); Point* u = du.data(); Point* v = dv.data(); primvar.Limit(src, p, u, v); }
  Far::TopologyLevel const& last = refiner->GetLevel(levels);
  printf("%s{\"body\":\"%s\",\"uvRule\":\"%s\",\"rim\":\"%s\",\"levels\":%d,\"uvs\":[", isFirst ? "" : ",\n", body.name.c_str(), rule, rim, levels); isFirst = false;
  auto numbers = [&](auto const& list, bool isPoint, auto of) { bool first = true; for (int f = 0; f < last.GetNumFaces(); f++) { auto ids = isPoint ? last.GetFaceVertices(f) : last.GetFaceFVarValues(f, 0); for (int i = 0; i < ids.size(); i++) for (double v : of(list, ids[i])) { printf("%s%.6g", first ? "" : ",", v + 0.0); first = false; } } };
  auto three = [](std::vector<Point> const& l, int i) { return std::vector<double>{l[i].p[0], l[i].p[1], l[i].p[2]}; };
  auto two = [](std::vector<Uv> const& l, int i) { return std::vector<double>{l[i].p[0], l[i].p[1]}; };
  numbers(uvs, false, two);
  if (!withPlaces) { printf("]}"); delete refiner; return; }
  printf("],\"points\":["); numbers(points, true, three); printf("],\"limits\":["); numbers(limit, true, three);
  for (size_t i = 0; i < du.size(); i++) { Point n; double const *a = du[i].p, *b = dv[i].p; for (int k = 0; k < 3; k++) n.p[k] = a[(k + 1) % 3] * b[(k + 2) % 3] - a[(k + 2) % 3] * b[(k + 1) % 3]; double l = 0; for (double c : n.p) l += c * c; l = l > 0 ? std::sqrt(l) : 1; for (double& c : n.p) c /= l; du[i] = n; }
  printf("],\"normals\":["); numbers(du, true, three); printf("]}");
  delete refiner;
}
int main() {
  std::vector<Body> bodies;
  // a cube, unwrapped as a cross: 14 UVs
  Body cube; cube.name = "cube"; cube.sharpness = 0;
  cube.points = {-1,-1,-1, 1,-1,-1, 1,1,-1, -1,1,-1, -1,-1,1, 1,-1,1, 1,1,1, -1,1,1};
  cube.sizes = {4,4,4,4,4,4}; cube.corners = {4,5,6,7, 5,1,2,6, 1,0,3,2, 0,4,7,3, 7,6,2,3, 0,1,5,4};
  cube.uvs = {0,.3333333, .25,.3333333, .25,.6666667, 0,.6666667, .5,.3333333, .5,.6666667, .75,.3333333, .75,.6666667, 1,.3333333, 1,.6666667, 0,1, .25,1, 0,0, .25,0};
  cube.uvCorners = {0,1,2,3, 1,4,5,2, 4,6,7,5, 6,8,9,7, 3,2,11,10, 12,13,1,0};
  bodies.push_back(cube);
  Body sharp = cube; sharp.name = "creased cube"; sharp.creases = {4,5, 5,6, 6,7, 7,4}; sharp.sharpness = 10; bodies.push_back(sharp);
  Body semi = sharp; semi.name = "half-creased cube"; semi.sharpness = 1.5; bodies.push_back(semi);
  // an open grid of 3 by 3, with a seam from rim to rim after the first column, bumped
  Body grid; grid.name = "grid"; grid.sharpness = 0;
  for (int y = 0; y < 4; y++) for (int x = 0; x < 4; x++) { grid.points.insert(grid.points.end(), {double(x), double(y), (x == 1 && y == 2) ? 0.7 : 0.1 * x * y}); }
  for (int y = 0; y < 4; y++) for (int x = 0; x < 4; x++) grid.uvs.insert(grid.uvs.end(), {x / 3.0 + (x == 1 ? 0 : 0.02 * y), y / 3.0});
  for (int y = 0; y < 4; y++) grid.uvs.insert(grid.uvs.end(), {1.5 + 0.03 * y * y, y / 3.0}); // the other side of the seam: 16..19
  for (int y = 0; y < 3; y++) for (int x = 0; x < 3; x++) { int a = y * 4 + x; grid.sizes.push_back(4); grid.corners.insert(grid.corners.end(), {a, a + 1, a + 5, a + 4});
    auto uv = [&](int v) { return x == 0 && v % 4 == 1 ? 16 + v / 4 : v; }; grid.uvCorners.insert(grid.uvCorners.end(), {uv(a), uv(a + 1), uv(a + 5), uv(a + 4)}); }
  bodies.push_back(grid);
  // the same without a seam to the rim: a slit inside, whose ends are darts; and an island with a concave corner
  Body slit; slit.name = "slit and island"; slit.sharpness = 0;
  for (int y = 0; y < 6; y++) for (int x = 0; x < 6; x++) { slit.points.insert(slit.points.end(), {double(x), double(y), 0.2 * ((x * 3 + y * 5) % 4)}); slit.uvs.insert(slit.uvs.end(), {x / 5.0, y / 5.0 + 0.01 * x * y}); }
  int next = 36; std::vector<int> other(36, -1);
  auto second = [&](int v, double du) { if (other[v] < 0) { other[v] = next++; slit.uvs.insert(slit.uvs.end(), {slit.uvs[v * 2] + du, slit.uvs[v * 2 + 1] + 2}); } return other[v]; };
  for (int y = 0; y < 5; y++) for (int x = 0; x < 5; x++) { int a = y * 6 + x; int ids[4] = {a, a + 1, a + 7, a + 6}; slit.sizes.push_back(4);
    bool island = (x == 0 && y <= 1) || (x == 1 && y == 0); // an L in the corner of the grid
    for (int v : ids) slit.corners.push_back(v);
    for (int v : ids) { int at = v; if (island) at = second(v, 0.1 * (v % 3)); else if (v == 3 * 6 + 3 && x == 3) at = second(v, 0.05); slit.uvCorners.push_back(at); } }
  bodies.push_back(slit);
  // a closed cylinder with five sides, caps of five corners, and a seam along one side
  Body can; can.name = "seamed can"; can.sharpness = 0;
  for (int ring = 0; ring < 3; ring++) for (int i = 0; i < 5; i++) can.points.insert(can.points.end(), {std::cos(i * 1.2566370614), ring * 0.8, std::sin(i * 1.2566370614)});
  for (int ring = 0; ring < 3; ring++) for (int i = 0; i < 6; i++) can.uvs.insert(can.uvs.end(), {i / 5.0, ring / 2.0 * 0.5});
  for (int cap = 0; cap < 2; cap++) for (int i = 0; i < 5; i++) can.uvs.insert(can.uvs.end(), {0.3 + 0.5 * cap + 0.2 * std::cos(i * 1.2566370614), 0.8 + 0.2 * std::sin(i * 1.2566370614)});
  for (int ring = 0; ring < 2; ring++) for (int i = 0; i < 5; i++) { int j = (i + 1) % 5; can.sizes.push_back(4); can.corners.insert(can.corners.end(), {ring * 5 + i, ring * 5 + 5 + i, ring * 5 + 5 + j, ring * 5 + j}); can.uvCorners.insert(can.uvCorners.end(), {ring * 6 + i, ring * 6 + 6 + i, ring * 6 + 7 + i, ring * 6 + i + 1}); }
  can.sizes.push_back(5); for (int i = 0; i < 5; i++) { can.corners.push_back(i); can.uvCorners.push_back(18 + i); }
  can.sizes.push_back(5); for (int i = 4; i >= 0; i--) { can.corners.push_back(10 + i); can.uvCorners.push_back(23 + i); }
  bodies.push_back(can);
  printf("{\"bodies\":[");
  auto list = [](const char* key, auto const& values) { printf("\"%s\":[", key); for (size_t i = 0; i < values.size(); i++) printf("%s%.9g", i ? "," : "", double(values[i])); printf("]"); };
  for (size_t b = 0; b < bodies.size(); b++) { Body const& o = bodies[b]; printf("%s{\"name\":\"%s\",", b ? ",\n" : "", o.name.c_str()); list("points", o.points); printf(","); list("sizes", o.sizes); printf(","); list("corners", o.corners); printf(","); list("uvs", o.uvs); printf(","); list("uvCorners", o.uvCorners); printf(","); list("creases", o.creases); printf(",\"sharpness\":%g}", o.sharpness); }
  printf("],\n\"refined\":[");
  typedef Sdc::Options O;
  for (Body const& body : bodies) {
    refine(body, "none", O::FVAR_LINEAR_NONE, "edgeAndCorner", O::VTX_BOUNDARY_EDGE_AND_CORNER, body.sizes.size() > 12 ? 1 : 2, true);
    refine(body, "cornersOnly", O::FVAR_LINEAR_CORNERS_ONLY, "edgeOnly", O::VTX_BOUNDARY_EDGE_ONLY, body.sizes.size() > 12 ? 1 : 2, false);
    refine(body, "cornersPlus1", O::FVAR_LINEAR_CORNERS_PLUS1, "edgeAndCorner", O::VTX_BOUNDARY_EDGE_AND_CORNER, body.sizes.size() > 12 ? 1 : 2, false);
    refine(body, "cornersPlus2", O::FVAR_LINEAR_CORNERS_PLUS2, "edgeAndCorner", O::VTX_BOUNDARY_EDGE_AND_CORNER, body.sizes.size() > 12 ? 1 : 2, false);
    refine(body, "boundaries", O::FVAR_LINEAR_BOUNDARIES, "edgeOnly", O::VTX_BOUNDARY_EDGE_ONLY, body.sizes.size() > 12 ? 1 : 2, false);
    refine(body, "all", O::FVAR_LINEAR_ALL, "edgeAndCorner", O::VTX_BOUNDARY_EDGE_AND_CORNER, body.sizes.size() > 12 ? 1 : 2, false);
    refine(body, "none", O::FVAR_LINEAR_NONE, "edgeOnly", O::VTX_BOUNDARY_EDGE_ONLY, body.sizes.size() > 12 ? 1 : 1, true);
  }
  printf("]}\n");
}
