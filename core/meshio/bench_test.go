package meshio_test

import (
	"bytes"
	"context"
	"math"
	"runtime"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/mesh"
	"morvek/core/meshio"
)

// field is a mesh of n × n quads with a normal and a coordinate for each point.
func field(b *testing.B, n int) *mesh.Mesh {
	b.Helper()
	build := mesh.NewBuilder()
	for y := range n + 1 {
		for x := range n + 1 {
			build.Point(r3.Vec{X: float64(x) * 0.013, Y: float64(y) * 0.017, Z: float64(float32(math.Sin(float64(x) * 0.1)))})
			build.Normal(r3.Vec{X: 0.1, Y: 0.2, Z: 0.97})
			build.UV(r2.Vec{X: float64(x) / float64(n), Y: float64(y) / float64(n)})
		}
	}
	for y := range n {
		for x := range n {
			for _, c := range [4]int{y*(n+1) + x, y*(n+1) + x + 1, (y+1)*(n+1) + x + 1, (y+1)*(n+1) + x} {
				build.Corner(mesh.PointID(c), int32(c), int32(c))
			}
			build.EndFace()
		}
	}
	m, err := build.Build()
	if err != nil {
		b.Fatal(err)
	}
	return m
}

// BenchmarkRead reads a million quads in each format: MB/s, and what is on the heap then, with the file
// and the model it was written from, in MB.
func BenchmarkRead(b *testing.B) {
	m := field(b, 1000)
	for _, name := range []string{"a.obj", "a.ply", "a.glb"} {
		b.Run(name[2:], func(b *testing.B) {
			var file bytes.Buffer
			if err := meshio.Write(&file, name, m, meshio.SourceMaps(m)); err != nil {
				b.Fatal(err)
			}
			b.SetBytes(int64(file.Len()))
			var after runtime.MemStats
			for b.Loop() {
				runtime.GC()
				read, err := meshio.Read(context.Background(), name, meshio.Input{Data: file.Bytes()})
				if err != nil {
					b.Fatal(err)
				}
				runtime.ReadMemStats(&after)
				runtime.KeepAlive(read)
			}
			b.ReportMetric(float64(after.HeapInuse)/1e6, "MB-heap")
		})
	}
}
