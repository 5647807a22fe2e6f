package words_test

import (
	"fmt"
	"math"
	"testing"

	"morvek/core/words"
)

func TestNumbersInSentences(t *testing.T) {
	for _, c := range []struct{ got, want string }{
		{words.Count(1, "edge"), "1 edge"},
		{words.Count(0, "edge"), "0 edges"},
		{words.Plural(2, "piece"), "pieces"},
		{words.Length(0.0042, "m"), "4.2 mm"},
		{fmt.Sprint(words.Convert(2, "in", "mm")), "50.8"},
		{words.Be(1) + words.Be(0), "isare"},
		{words.Length(12, "in"), "305 mm"},
		{words.Length(2500, "mm"), "2.50 m"},
		{words.Length(1e-9, "m"), "0 mm"},
		{words.Length(math.Inf(1), "m"), "–"},
		{words.Times(1.0449, 2), "×1.04"},
		{words.Times(math.NaN(), 2), "endless"},
		{words.Times(2e6, 0), "endless"},
	} {
		if c.got != c.want {
			t.Errorf("%q, want %q", c.got, c.want)
		}
	}
}
