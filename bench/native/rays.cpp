// Traces the rays of bench/rays.ts one by one on one thread with the native library, for comparison.
// Input: counts (u32: vertices, triangles, rays), positions, indices, rays (6 floats each). Output: seconds of closest
// and any hit, and the number of hits, as the median of five rounds.
#include <embree3/rtcore.h>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <limits>
#include <vector>

template <typename T> std::vector<T> take(FILE *file, size_t count) {
  std::vector<T> out(count);
  if (std::fread(out.data(), sizeof(T), count, file) != count) std::exit(1);
  return out;
}

int main(int, char **argv) {
  FILE *file = std::fopen(argv[1], "rb");
  auto counts = take<unsigned>(file, 3);
  auto positions = take<float>(file, counts[0] * 3);
  auto indices = take<unsigned>(file, counts[1] * 3);
  auto rays = take<float>(file, counts[2] * 6);
  RTCDevice device = rtcNewDevice("threads=1");
  RTCScene scene = rtcNewScene(device);
  rtcSetSceneFlags(scene, RTC_SCENE_FLAG_ROBUST);
  RTCGeometry mesh = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
  std::memcpy(rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, counts[0]),
              positions.data(), positions.size() * 4);
  std::memcpy(rtcSetNewGeometryBuffer(mesh, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, counts[1]),
              indices.data(), indices.size() * 4);
  rtcCommitGeometry(mesh);
  rtcAttachGeometry(scene, mesh);
  rtcCommitScene(scene);
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  std::vector<double> times[2];
  unsigned hits = 0;
  for (int round = 0; round < 5; round++)
    for (int any = 0; any < 2; any++) {
      auto started = std::chrono::steady_clock::now();
      hits = 0;
      for (size_t i = 0; i < counts[2]; i++) {
        const float *r = &rays[i * 6];
        RTCRayHit ray{};
        ray.ray = {r[0], r[1], r[2], 0, r[3], r[4], r[5], 0, std::numeric_limits<float>::infinity(), ~0u, 0, 0};
        ray.hit.geomID = RTC_INVALID_GEOMETRY_ID;
        if (any) {
          rtcOccluded1(scene, &context, &ray.ray);
          hits += ray.ray.tfar < 0;
        } else {
          rtcIntersect1(scene, &context, &ray);
          hits += ray.hit.geomID != RTC_INVALID_GEOMETRY_ID;
        }
      }
      double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - started).count();
      times[any].push_back(seconds);
    }
  for (auto &t : times) std::sort(t.begin(), t.end());
  std::printf("%f %f %u\n", times[0][2], times[1][2], hits);
}
