package obj

import (
	"bytes"
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"morvek/core/mesh"
	"morvek/core/meshio/format"
)

func read(t testing.TB, s string) (*mesh.Mesh, error) {
	t.Helper()
	return Read(context.Background(), format.Input{Data: []byte(s)})
}

const sample = "# made up\r\nmtllib fenn.mtl\r\no box\r\ng side a\r\nusemtl ash\r\ns 1\r\n" +
	"v 0 0 0\r\nv 1 0 0\r\nv 1 1 0\r\nv 0 1 0\r\nv 0.5 \\\r\n 1.5 0\r\nvt 0 0\r\nvt 1 0\r\nvt 1 1\r\nvt 0 1\r\nvn 0 0 1\r\n" +
	"f 1/1/1 2/2/1 3/3/1 4/4/1\r\ns off\r\no roof\r\nusemtl tin\r\nf -2//-1 -3//-1 -1//-1"

func TestReadKeepsEverything(t *testing.T) {
	m, err := read(t, sample)
	if err != nil {
		t.Fatal(err)
	}
	if m.NumFaces() != 2 || m.NumPoints() != 5 || len(m.FacePoints(0)) != 4 {
		t.Fatalf("%d faces, %d points", m.NumFaces(), m.NumPoints())
	}
	if m.Points[4].X != 0.5 || m.Points[4].Y != 1.5 {
		t.Errorf("continuation line read as %v", m.Points[4])
	}
	if got := m.FacePoints(1); !slices.Equal(got, []mesh.PointID{3, 2, 4}) {
		t.Errorf("relative indices read as %v", got)
	}
	if m.ObjectName(1) != "roof" || m.MaterialName(0) != "ash" || m.GroupName(1) != "side a" || m.Smoothing[m.FaceSmoothing[1]] != "off" {
		t.Errorf("names lost: %q %q %q", m.ObjectName(1), m.MaterialName(0), m.GroupName(1))
	}
	if _, ok := format.SourceUV(m)(0); !ok {
		t.Error("the map that came along is lost")
	}
	if _, ok := format.SourceUV(m)(5); ok {
		t.Error("a corner without coordinate has one")
	}
}

func TestWriteAndReadBackIsTheSame(t *testing.T) {
	a, err := read(t, sample)
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := Write(&out, a, format.SourceMaps(a)); err != nil {
		t.Fatal(err)
	}
	b, err := read(t, out.String())
	if err != nil {
		t.Fatalf("%v in\n%s", err, out.String())
	}
	if !slices.Equal(a.Points, b.Points) || !slices.Equal(a.CornerPoint, b.CornerPoint) || !slices.Equal(a.FaceStart, b.FaceStart) ||
		!slices.Equal(a.Normals, b.Normals) || !slices.Equal(a.CornerNormal, b.CornerNormal) || !slices.Equal(a.Libraries, b.Libraries) {
		t.Errorf("geometry changed:\n%s", out.String())
	}
	for f := range a.NumFaces() {
		id := mesh.FaceID(f)
		if a.ObjectName(id) != b.ObjectName(id) || a.MaterialName(id) != b.MaterialName(id) || a.GroupName(id) != b.GroupName(id) {
			t.Errorf("face %d changed its names", f)
		}
	}
	for c := range a.NumCorners() {
		ua, oka := format.SourceUV(a)(mesh.HalfedgeID(c))
		ub, okb := format.SourceUV(b)(mesh.HalfedgeID(c))
		if ua != ub || oka != okb {
			t.Errorf("corner %d changed its coordinate", c)
		}
	}
}

func TestBadFilesAreRefusedWithTheLine(t *testing.T) {
	cases := []struct {
		name, text string
		line       int
		says       string
	}{
		{"empty", "", 0, "empty"},
		{"points only", "v 0 0 0\n", 0, "no faces"},
		{"prose", "hello there\n", 0, "does not look like"},
		{"picture", "\x89PNG\r\n\x1a\n\x00\x00", 0, "binary"},
		{"out of range", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n", 4, "out of range"},
		{"zero index", "v 0 0 0\nf 0 1 1\n", 2, "out of range"},
		{"not a number", "v 0 NaN 0\n", 1, "finite"},
		{"infinite", "v 0 1e999 0\n", 1, "finite"},
		{"far away", "v 0 1e308 0\nv 0 0 0\nv 1 0 0\nf 1 2 3\n", 0, "1e+308; beyond 1e+30"},
		{"word", "v 0 x 0\n", 1, "finite"},
		{"two corners", "v 0 0 0\nv 1 0 0\nf 1 2\n", 3, "at least 3"},
		{"short point", "v 0 0\n", 1, "needs 3"},
	}
	for _, c := range cases {
		_, err := read(t, c.text)
		var e *format.Error
		if !errors.As(err, &e) {
			t.Errorf("%s: got %v, want an *format.Error", c.name, err)
			continue
		}
		if e.Line != c.line || !strings.Contains(e.Error(), c.says) || e.Hint == "" {
			t.Errorf("%s: line %d, %q; want line %d with %q and a hint", c.name, e.Line, e.Error(), c.line, c.says)
		}
	}
}

const rich = "# Fennhollow, sheet 3\n#\nv 0 0 0 0.25 0.5 1\nv 1 0 0\nv 1 1 0 1\n# a wire before the faces\nl -3 -1 2\nv 0 1 0 0.1 0.2 0.3\nf 1 2 3\n# between\np 4 1\nl 1/2 2\nf 1 3 4\n# the end\n"

func TestWhatIsNoFaceIsKept(t *testing.T) {
	m, err := read(t, rich)
	if err != nil {
		t.Fatal(err)
	}
	var out bytes.Buffer
	if err := Write(&out, m, format.SourceMaps(m)); err != nil {
		t.Fatal(err)
	}
	want := "# Fennhollow, sheet 3\n#\n# a wire before the faces\nv 0 0 0 0.25 0.5 1\nv 1 0 0\nv 1 1 0 1\nv 0 1 0 0.1 0.2 0.3\nl 1 3 2\nf 1 2 3\n# between\np 4 1\nl 1 2\nf 1 3 4\n# the end\n"
	if out.String() != want {
		t.Errorf("written as\n%s\nwant\n%s", out.String(), want)
	}
}

func TestTextsOfAllEncodingsAreRead(t *testing.T) {
	plain := "v 0 0 0\nv 1 0 0\nv 0 1 0\no Dach\nf 1 2 3\n"
	wide := func(mark string, high, low int) string {
		b := []byte(mark)
		for _, r := range plain {
			pair := []byte{0, 0}
			pair[high], pair[low] = byte(r>>8), byte(r)
			b = append(b, pair...)
		}
		return string(b)
	}
	for name, text := range map[string]string{"UTF-8 with a mark": "\xef\xbb\xbf" + plain, "UTF-16, low byte first": wide("\xff\xfe", 1, 0), "UTF-16, high byte first": wide("\xfe\xff", 0, 1)} {
		m, err := read(t, text)
		if err != nil || m.NumPoints() != 3 || m.NumFaces() != 1 || m.ObjectName(0) != "Dach" {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func TestReadingIsCancelled(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if _, err := Read(ctx, format.Input{Data: []byte(sample)}); !errors.Is(err, context.Canceled) {
		t.Errorf("cancelled read gave %v", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(sample)
	f.Add(rich)
	f.Add("\xff\xfev\x00 \x00")
	f.Add("v 1 2 3\nf 1 1 1\n")
	f.Add(strings.Repeat("\n", 600) + "o a\x00b\n# c\x00d\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")
	f.Add("v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1/ 2// 3\\\n")
	f.Fuzz(func(t *testing.T, s string) {
		m, err := read(t, s)
		if err != nil {
			return
		}
		m.Health()
		var out bytes.Buffer
		if err := Write(&out, m, format.SourceMaps(m)); err != nil {
			t.Fatal(err)
		}
		n, err := read(t, out.String())
		if err != nil || n.NumFaces() != m.NumFaces() {
			t.Fatalf("what was written cannot be read back: %v", err)
		}
	})
}
