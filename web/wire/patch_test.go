package wire_test

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"math"
	"math/rand/v2"
	"reflect"
	"testing"

	"gonum.org/v1/gonum/spatial/r2"

	"morvek/core/document"
	"morvek/core/edit"
	"morvek/core/edit/edittest"
	"morvek/core/edit/flowedits"
	"morvek/core/edit/partedits"
	"morvek/core/edit/seamedits"
	"morvek/core/edit/sheetedits"
	"morvek/core/mesh"
	"morvek/web/wire"
	"morvek/workspace"
)

// known is what a bench knows of a revision.
type known struct {
	Meta      wire.Meta `json:"meta"`
	UV        []float32 `json:"uv"`
	FacePart  []int32   `json:"facePart"`
	FaceShell []int32   `json:"faceShell"`
	Mapped    []byte    `json:"mapped"`
	Cut       []byte    `json:"cut"`
	Stretch   []float32 `json:"stretch"`
	Angular   []float32 `json:"angular"`
	Grain     []float32 `json:"grain"`
	Wish      []int8    `json:"wish"`
}

// whole reads what is told of a revision from nothing.
func whole(t *testing.T, o *workspace.Opened) (k known) {
	t.Helper()
	b := wire.Layout(o)
	if string(b[:4]) != "MVL4" || binary.LittleEndian.Uint32(b[4:]) != 9 {
		t.Fatalf("a block %q of %d", b[:4], b[4])
	}
	b = b[8:]
	next := func() []byte {
		n := int(binary.LittleEndian.Uint32(b))
		out := b[4 : 4+n]
		b = b[4+(n+3)/4*4:]
		return out
	}
	ints := func() (out []int32) {
		for p := next(); len(p) > 0; p = p[4:] {
			out = append(out, int32(binary.LittleEndian.Uint32(p)))
		}
		return out
	}
	floats := func() (out []float32) {
		for _, x := range ints() {
			out = append(out, math.Float32frombits(uint32(x)))
		}
		return out
	}
	k.UV, k.FacePart, k.FaceShell = floats(), ints(), ints()
	k.Mapped, k.Cut = append([]byte{}, next()...), append([]byte{}, next()...)
	k.Stretch, k.Angular, k.Grain = floats(), floats(), floats()
	for _, x := range next() {
		k.Wish = append(k.Wish, int8(x))
	}
	k.Meta = wire.NewMeta(o)
	return k
}

// take applies a patch as the bench does (web/bench/patch.ts).
func (k *known) take(brief wire.Meta, p wire.Patch) {
	for i := 0; i < len(p.FaceParts); i += 2 {
		k.FacePart[p.FaceParts[i]] = p.FaceParts[i+1]
	}
	for i, c := range p.Corners {
		k.UV[2*c], k.UV[2*c+1] = p.UV[2*i], p.UV[2*i+1]
	}
	for _, f := range p.Mapped {
		k.Mapped[f] ^= 1
	}
	for _, e := range p.Cut {
		k.Cut[e] ^= 1
	}
	parts := append([]wire.Part{}, k.Meta.Parts[:min(p.PartCount, len(k.Meta.Parts))]...)
	for len(parts) < p.PartCount {
		parts = append(parts, wire.Part{})
	}
	for _, c := range p.Parts {
		parts[c.Part] = c.As
	}
	was := map[int32]int32{}
	shells := []wire.Shell{}
	fresh := map[mesh.FaceID]int32{}
	next := 0
	put := func(at int) {
		for ; next < len(p.Fresh) && p.Fresh[next].At == at; next++ {
			for _, f := range p.Fresh[next].Faces {
				fresh[f] = int32(len(shells))
			}
			shells = append(shells, p.Fresh[next].As)
		}
	}
	put(0)
	for i, run := range p.ShellRuns {
		for j := range run[1] {
			was[int32(run[0]+j)] = int32(len(shells))
			shells = append(shells, k.Meta.Shells[run[0]+j])
		}
		put(i + 1)
	}
	for f, s := range k.FaceShell {
		if n, ok := fresh[mesh.FaceID(f)]; ok {
			k.FaceShell[f] = n
		} else if n, ok := was[s]; ok {
			k.FaceShell[f] = n
		} else {
			k.FaceShell[f] = -1
		}
	}
	findings := [][]mesh.FaceID{}
	news := p.FreshFindings
	for _, run := range p.FindingRuns {
		if run[0] < 0 {
			findings, news = append(findings, news[0]), news[1:]
			continue
		}
		findings = append(findings, k.Meta.Findings[run[0]:run[0]+run[1]]...)
	}
	for i, f := range p.Faces {
		k.Stretch[f], k.Angular[f], k.Grain[f] = p.Stretch[i], p.Angular[i], p.Grain[i]
		copy(k.Wish[3*f:3*f+3], p.Wish[3*i:3*i+3])
	}
	brief.Parts, brief.Shells, brief.Findings = parts, shells, findings
	k.Meta = brief
}

func plain(t *testing.T, v any) any {
	t.Helper()
	b, err := json.Marshal(v)
	if err != nil {
		t.Fatal(err)
	}
	var out any
	if err := json.Unmarshal(b, &out); err != nil {
		t.Fatal(err)
	}
	return out
}

// Whatever is done: a patch leads from what is known of the revision before to what would be
// told of this one from nothing.
func TestAPatchLeadsToWhatWouldBeTold(t *testing.T) {
	patched := 0
	for seed := range uint64(4) {
		r := rand.New(rand.NewPCG(seed, 9))
		d := edittest.Apply(t, edittest.Jar(t, 12), &partedits.Recognise{}, &seamedits.Open{}, &flowedits.Flatten{}, &sheetedits.Pack{})
		if seed%2 == 1 {
			d = edittest.Attached(t, edittest.Cuboid(t, 3, 1, 2), 0.5)
		}
		o := workspace.Of(d)
		k := whole(t, o)
		m := d.Mesh
		face := func() mesh.FaceID { return mesh.FaceID(r.IntN(m.NumFaces())) }
		edge := func() mesh.EdgeID { return mesh.EdgeID(r.IntN(m.NumEdges())) }
		for step := range 40 {
			var e edit.Edit
			switch r.IntN(12) {
			case 0:
				e = &partedits.Rename{Part: document.PartID(r.IntN(len(o.Doc.State.Parts))), Name: "some"}
			case 1, 2:
				e = &seamedits.Cut{Edges: []mesh.EdgeID{edge(), edge()}}
			case 3:
				e = &seamedits.Close{Edges: []mesh.EdgeID{edge(), edge()}}
			case 4:
				e = &sheetedits.Move{Faces: []mesh.FaceID{face()}, Shift: r2.Vec{X: r.NormFloat64() / 10}}
			case 5:
				e = &sheetedits.Clear{Faces: []mesh.FaceID{face()}}
			case 6:
				e = &flowedits.Flatten{Faces: []mesh.FaceID{face()}}
			case 7:
				e = &partedits.PartOff{Faces: []mesh.FaceID{face(), face()}}
			case 8:
				e = &partedits.Merge{Parts: []document.PartID{0, 1}}
			case 9:
				e = &flowedits.SetGrain{Parts: []document.PartID{0}, GrainWish: document.GrainWish{Of: document.GrainNone}}
			case 10:
				e = &sheetedits.Pack{}
			default:
				e = &seamedits.ShellOff{Faces: []mesh.FaceID{face(), face()}}
			}
			s, err := e.Apply(context.Background(), o.Doc, nil)
			if errors.Is(err, document.ErrRefused) {
				continue
			}
			if err != nil {
				t.Fatal(err)
			}
			next := o.With(s)
			by := document.Diff(o.Doc.State, s)
			want := whole(t, next)
			p, ok := wire.NewPatch(o, next, by)
			if o = next; !ok {
				k = want
				continue
			}
			patched++
			b, err := json.Marshal(p)
			if err != nil {
				t.Fatal(err)
			}
			var sent wire.Patch
			if err := json.Unmarshal(b, &sent); err != nil {
				t.Fatal(err)
			}
			k.take(wire.Brief(next), sent)
			got, told := plain(t, k).(map[string]any), plain(t, want).(map[string]any)
			for name := range told {
				if !reflect.DeepEqual(got[name], told[name]) {
					t.Fatalf("seed %d, step %d: after %s %s is\n%v\nwould be\n%v", seed, step, e.Kind(), name, got[name], told[name])
				}
			}
		}
	}
	if patched < 40 {
		t.Errorf("only %d patches", patched)
	}
}
