package obj

import (
	"context"
	"errors"
	"testing"

	"morvek/core/meshio/format"
)

// Colours and pictures of materials come from the library beside the file, by whatever path leads
// to it; what is not there is no reason to refuse the model.
func TestMaterialsOfALibrary(t *testing.T) {
	files := map[string]string{
		"lib/station.mtl":      "# made up\nnewmtl ash wood\nKd 0.5 0.25 1\nd 0.5\nnewmtl tin\nKd 0.3\nmap_Kd -clamp on pictures\\tin.png\nnewmtl spare\nKd x\nTr 0.25\n",
		"lib/pictures/tin.png": "\x89PNG\r\n\x1a\n",
	}
	asked := func(name string) ([]byte, error) {
		if text, ok := files[name]; ok {
			return []byte(text), nil
		}
		return nil, errors.New("not there")
	}
	const text = "mtllib lib/station.mtl\nmtllib ../outside.mtl\nmtllib missing.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl tin\nf 1 2 3\nusemtl ash wood\nf 1 3 2\nusemtl unheard of\nf 2 1 3\n"
	m, err := Read(context.Background(), format.Input{Data: []byte(text), Beside: asked})
	if err != nil {
		t.Fatal(err)
	}
	if len(m.Looks) != 2 && len(m.Looks) != 3 {
		t.Fatalf("%d looks of %q", len(m.Looks), m.Materials)
	}
	if tin := m.Looks[0]; !tin.Known || tin.Color != [4]float32{0.3, 0.3, 0.3, 1} || len(tin.Picture) != 8 {
		t.Errorf("tin looks like %+v", tin)
	}
	if ash := m.Looks[1]; ash.Color != [4]float32{0.5, 0.25, 1, 0.5} || ash.Picture != nil {
		t.Errorf("ash looks like %+v", ash)
	}
	if len(m.Looks) == 3 && m.Looks[2].Known {
		t.Errorf("an unknown material looks like %+v", m.Looks[2])
	}
	if n, err := Read(context.Background(), format.Input{Data: []byte(text)}); err != nil || n.Looks != nil {
		t.Errorf("alone it is read with %v, %v", n.Looks, err)
	}
}

func FuzzLibrary(f *testing.F) {
	f.Add([]byte("newmtl a\nKd 1\nd\nTr 2\nmap_Kd x\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		for _, m := range library(text) {
			for _, c := range m.look.Color {
				if !(c >= 0 && c <= 1) {
					t.Fatalf("%q has the colour %v", m.name, m.look.Color)
				}
			}
		}
	})
}
