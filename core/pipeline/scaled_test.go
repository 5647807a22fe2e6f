package pipeline_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"math"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"
	"gonum.org/v1/gonum/spatial/r3"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/core/pipeline"
)

// Whatever scales the nodes of a file have, the map has the proportions of what is seen: along
// every edge of the sides and of the wall one texel density, to a millionth.
func TestMapsHaveTheProportionsThatAreSeen(t *testing.T) {
	ctx := context.Background()
	m, err := meshio.Read(ctx, "can.obj", meshio.Input{Data: meshtest.CanFile(12)})
	if err != nil {
		t.Fatal(err)
	}
	var plain bytes.Buffer
	if err := meshio.Write(&plain, "can.gltf", m, nil); err != nil {
		t.Fatal(err)
	}
	for _, scale := range [][3]float64{{1, 1, 1}, {1, 2.5, 1}, {-0.4, 0.4, 0.4}, {0.01, 0.03, 0.01}, {1000, -4000, 1000}} {
		t.Run(fmt.Sprint(scale), func(t *testing.T) {
			var all map[string]any
			if err := json.Unmarshal(plain.Bytes(), &all); err != nil {
				t.Fatal(err)
			}
			for _, n := range all["nodes"].([]any) {
				n.(map[string]any)["scale"] = scale
				n.(map[string]any)["rotation"] = [4]float64{0, math.Sin(0.3), 0, math.Cos(0.3)}
			}
			file, err := json.Marshal(all)
			if err != nil {
				t.Fatal(err)
			}
			source, err := meshio.Read(ctx, "can.gltf", meshio.Input{Data: file})
			if err != nil {
				t.Fatal(err)
			}
			res, err := pipeline.Run(ctx, document.New(source, document.DefaultSettings()), nil)
			if err != nil {
				t.Fatal(err)
			}
			var out bytes.Buffer
			f, _ := meshio.Of("can.glb")
			if err := f.Write(&out, res.Doc.Source, res.Doc.Written(f)); err != nil {
				t.Fatal(err)
			}
			back, err := meshio.Read(ctx, "can.glb", meshio.Input{Data: out.Bytes()})
			if err != nil {
				t.Fatal(err)
			}
			uv := meshio.SourceUV(back)
			lo, hi := math.Inf(1), 0.
			for h := range mesh.HalfedgeID(back.NumCorners()) {
				a, _ := uv(h)
				b, ok := uv(back.Next(h))
				if !ok {
					t.Fatalf("corner %d is not mapped", h)
				}
				density := r2.Norm(r2.Sub(b, a)) / r3.Norm(back.EdgeVec(h))
				lo, hi = min(lo, density), max(hi, density)
			}
			if hi/lo-1 > 2e-6 { // coordinates are written as float32, a millionth of the shortest edge
				t.Errorf("densities from %g to %g", lo, hi)
			}
		})
	}
}
