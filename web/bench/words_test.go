package bench

import "testing"

func TestEndsOfNames(t *testing.T) {
	for name, want := range map[string][2]string{
		"sd pierced plate 12": {"sd pierced ", "plate 12"},
		"handle bar":          {"handle ", "bar"},
		"body board 2 front":  {"body board ", "2 front"},
		"cage rod 3":          {"cage ", "rod 3"},
		"sign":                {"", "sign"},
		"7":                   {"", "7"},
		"":                    {"", ""},
		"trailing ":           {"", "trailing "},
	} {
		if got := ends(name); got != want {
			t.Errorf("%q is parted %q, want %q", name, got, want)
		}
	}
}
