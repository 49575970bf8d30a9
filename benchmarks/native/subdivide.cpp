// Uniform Catmull-Clark refinement of a grid by the native OpenSubdiv library, for ./kelbo benchmark: prints
// milliseconds of refining the topology and interpolating positions in double precision, and the face count.
#include <opensubdiv/far/primvarRefiner.h>
#include <opensubdiv/far/topologyDescriptor.h>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <vector>

using namespace OpenSubdiv;

struct Point {
  double x, y, z;
  void Clear(void * = 0) { x = y = z = 0; }
  void AddWithWeight(Point const &other, double weight) {
    x += weight * other.x;
    y += weight * other.y;
    z += weight * other.z;
  }
};

int main(int argc, char **argv) {
  int const side = argc > 1 ? std::atoi(argv[1]) : 100;
  int const levels = argc > 2 ? std::atoi(argv[2]) : 3;
  std::vector<int> sizes(side * side, 4), vertices;
  std::vector<Point> points;
  for (int j = 0; j <= side; j++)
    for (int i = 0; i <= side; i++) points.push_back({double(i), std::sin(i * 0.3) * std::cos(j * 0.2), double(-j)});
  for (int j = 0; j < side; j++)
    for (int i = 0; i < side; i++) {
      int const a = j * (side + 1) + i;
      for (int v : {a, a + 1, a + side + 2, a + side + 1}) vertices.push_back(v);
    }
  auto const start = std::chrono::steady_clock::now();
  Far::TopologyDescriptor descriptor;
  descriptor.numVertices = int(points.size());
  descriptor.numFaces = side * side;
  descriptor.numVertsPerFace = sizes.data();
  descriptor.vertIndicesPerFace = vertices.data();
  Sdc::Options options;
  options.SetVtxBoundaryInterpolation(Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER);
  typedef Far::TopologyRefinerFactory<Far::TopologyDescriptor> Factory;
  Far::TopologyRefiner *refiner = Factory::Create(descriptor, Factory::Options(Sdc::SCHEME_CATMARK, options));
  Far::TopologyRefiner::UniformOptions uniform(levels);
  uniform.fullTopologyInLastLevel = true;
  refiner->RefineUniform(uniform);
  Far::PrimvarRefinerReal<double> primvars(*refiner);
  std::vector<Point> from = points;
  for (int level = 1; level <= levels; level++) {
    std::vector<Point> to(refiner->GetLevel(level).GetNumVertices());
    primvars.Interpolate(level, from, to);
    from.swap(to);
  }
  double const milliseconds =
      std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count();
  std::printf("%.3f %d\n", milliseconds, refiner->GetLevel(levels).GetNumFaces());
  return 0;
}
