package pipeline_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"slices"
	"strconv"
	"testing"

	"morvek/core/document"
	"morvek/core/mesh/meshtest"
	"morvek/core/meshio"
	"morvek/core/parallel"
	"morvek/core/pipeline"
	"morvek/core/proof"
	"morvek/core/report"
	"morvek/models/modeltest"
)

// anything writes a small model that nobody would make: few points, faces that repeat
// corners, cross themselves, lie on each other, or are larger than all the others.
func anything(r *rand.Rand) []byte {
	var b bytes.Buffer
	n := 3 + r.IntN(9)
	monsters := r.IntN(3) == 0
	grid := r.IntN(2) == 0
	for range n {
		c := func() float64 {
			switch {
			case monsters:
				return (2*r.Float64() - 1) * math.Pow(10, 24*r.Float64()-12)
			case grid:
				return float64(r.IntN(3))
			}
			return r.NormFloat64()
		}
		fmt.Fprintf(&b, "v %g %g %g\n", c(), c(), c())
	}
	repeat := r.IntN(2) == 0
	for range 1 + r.IntN(9) {
		k := 3 + r.IntN(4)
		if !repeat {
			k = min(k, n)
		}
		p := r.Perm(n)
		fmt.Fprint(&b, "f")
		for i := range k {
			if repeat {
				fmt.Fprintf(&b, " %d", 1+r.IntN(n))
			} else {
				fmt.Fprintf(&b, " %d", 1+p[i])
			}
		}
		fmt.Fprintln(&b)
	}
	return b.Bytes()
}

// wholeJob takes a file from its bytes to its proof and says what is wrong with what
// came out. A file that is refused is well answered.
func wholeJob(data []byte) error {
	return parallel.Catch(func() error {
		ctx := context.Background()
		m, err := meshio.Read(ctx, "any.obj", meshio.Input{Data: data})
		var bad *meshio.Error
		if errors.As(err, &bad) {
			return nil
		}
		if err != nil {
			return err
		}
		res, err := pipeline.Run(ctx, document.New(m, document.DefaultSettings()), nil)
		if err != nil {
			return err
		}
		if err := res.Doc.State.Finite(); err != nil {
			return err
		}
		r := proof.Measure(res.Doc.ProofInput())
		t := r.Totals
		if t.Unmapped+t.Mirrored+t.NoArea+t.Outside > 0 || t.OverlapShare > 0 {
			return fmt.Errorf("unmapped %d, mirrored %d, without area %d, outside %d, overlapping %g", t.Unmapped, t.Mirrored, t.NoArea, t.Outside, t.OverlapShare)
		}
		if pad := res.Doc.State.Settings.Sheet.Padding; t.NearestPx() >= 0 && t.NearestPx() < pad*(1-1e-9) {
			return fmt.Errorf("a gap of %g px", t.NearestPx())
		}
		_, err = report.Of(ctx, res.Doc, "any.obj")
		return err
	})
}

// MORVEK_MODELS=10000 tries as many.
func TestNothingBreaksOnSmallModels(t *testing.T) {
	count := 100
	if n, err := strconv.Atoi(os.Getenv("MORVEK_MODELS")); err == nil {
		count = n
	}
	failed := make([]error, count)
	var g parallel.Group
	g.SetLimit(runtime.GOMAXPROCS(0))
	for seed := range count {
		g.Do(func() { failed[seed] = wholeJob(anything(rand.New(rand.NewPCG(uint64(seed), 7)))) })
	}
	_ = g.Wait()
	many := 0
	for seed, err := range failed {
		if err == nil {
			continue
		}
		if many++; many <= 20 {
			t.Errorf("model %d: %.900v\n%s", seed, err, anything(rand.New(rand.NewPCG(uint64(seed), 7))))
		}
	}
	if many > 0 {
		t.Errorf("%d of %d", many, count)
	}
}

// broken damages the lines of a model as modelers and programs do: faces doubled, turned
// over, left out, pinched to a line or a point, points torn apart or moved onto others.
func broken(r *rand.Rand, data []byte) []byte {
	lines := bytes.Split(bytes.TrimSpace(data), []byte("\n"))
	var points, faces []int
	for i, l := range lines {
		switch {
		case bytes.HasPrefix(l, []byte("v ")):
			points = append(points, i)
		case bytes.HasPrefix(l, []byte("f ")):
			faces = append(faces, i)
		}
	}
	any := func() int { return faces[r.IntN(len(faces))] }
	for range 1 + r.IntN(8) {
		i := any()
		c := bytes.Fields(lines[i])[1:]
		k := r.IntN(len(c))
		switch r.IntN(7) {
		case 0: // doubled, perhaps from another corner
			lines = append(lines, slices.Concat([]byte("f "), bytes.Join(slices.Concat(c[k:], c[:k]), []byte(" "))))
		case 1:
			slices.Reverse(c)
			lines[i] = slices.Concat([]byte("f "), bytes.Join(c, []byte(" ")))
		case 2:
			lines[i] = []byte("# left out")
			faces = slices.DeleteFunc(faces, func(f int) bool { return f == i })
			if len(faces) == 0 {
				return data
			}
		case 3: // pinched
			c[k] = c[(k+1)%len(c)]
			lines[i] = slices.Concat([]byte("f "), bytes.Join(c, []byte(" ")))
		case 4: // a point moved onto another
			lines[points[r.IntN(len(points))]] = lines[points[r.IntN(len(points))]]
		case 5: // a corner on some other point
			c[k] = []byte(strconv.Itoa(1 + r.IntN(len(points))))
			lines[i] = slices.Concat([]byte("f "), bytes.Join(c, []byte(" ")))
		case 6: // a fin on an edge
			lines = append(lines, fmt.Appendf(nil, "f %s %s %d", c[k], c[(k+1)%len(c)], 1+r.IntN(len(points))))
		}
	}
	return append(bytes.Join(lines, []byte("\n")), '\n')
}

func TestNothingBreaksOnBrokenModels(t *testing.T) {
	count := 60
	if n, err := strconv.Atoi(os.Getenv("MORVEK_MODELS")); err == nil {
		count = n
	}
	wholes := [][]byte{meshtest.CanFile(6), meshtest.CanFile(14), meshtest.CanFile(40)}
	for _, slug := range []string{"survey-case"} {
		var b bytes.Buffer
		if err := meshio.Write(&b, "any.obj", modeltest.Mesh(t, slug), nil); err != nil {
			t.Fatal(err)
		}
		wholes = append(wholes, b.Bytes())
	}
	failed := make([]error, count)
	made := func(seed int) []byte {
		r := rand.New(rand.NewPCG(uint64(seed), 11))
		whole := wholes[seed%3]
		if seed%20 == 19 {
			whole = wholes[3]
		}
		return broken(r, whole)
	}
	var g parallel.Group
	g.SetLimit(runtime.GOMAXPROCS(0))
	for seed := range count {
		g.Do(func() { failed[seed] = wholeJob(made(seed)) })
	}
	_ = g.Wait()
	many := 0
	for seed, err := range failed {
		if err != nil {
			if many++; many <= 12 {
				t.Errorf("model %d: %.900v", seed, err)
			}
		}
	}
	if many > 0 {
		t.Errorf("%d of %d", many, count)
	}
}

// From the bytes of a file to the proof of its map.
func FuzzWholeJob(f *testing.F) {
	f.Add(meshtest.CanFile(5))
	f.Add([]byte("v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 3 2 4\nf 1 2 3 4\n"))
	for seed := range 20 {
		f.Add(anything(rand.New(rand.NewPCG(uint64(seed), 7))))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		if len(data) > 4000 {
			return
		}
		if err := wholeJob(data); err != nil {
			t.Fatalf("%v\n%s", err, data)
		}
	})
}
