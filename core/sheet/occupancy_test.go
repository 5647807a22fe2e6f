package sheet

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// blob is a random mask, now and then a full rectangle.
func blob(rng *rand.Rand, most int) *mask {
	m := newMask(1+rng.IntN(most), 1+rng.IntN(most))
	full := rng.IntN(3) == 0
	for y := range m.h {
		a, b := rng.IntN(m.w), rng.IntN(m.w)
		if full {
			a, b = 0, m.w-1
		}
		m.setRun(y, min(a, b), max(a, b))
		if !full && rng.IntN(4) == 0 { // a second run, so that rows have holes
			x := rng.IntN(m.w)
			m.setRun(y, x, x)
		}
	}
	return m
}

func formOf(m *mask) *form {
	f := &form{mask: m, runs: m.runs()}
	f.bands, f.exact = m.bands()
	return f
}

func (m *mask) has(x, y int) bool {
	return x >= 0 && y >= 0 && x < m.w && y < m.h && m.row(y)[x/64]>>(x%64)&1 == 1
}

// Every place the bit-parallel search finds is free, and it is the lowest, then
// leftmost, that a cell by cell search finds.
func TestFindAgreesWithCellByCell(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for round := range 60 {
		n := 40 + rng.IntN(120)
		o := newOccupancy(n, n)
		taken := make([][]bool, n)
		for y := range taken {
			taken[y] = make([]bool, n)
		}
		for range rng.IntN(12) {
			m := blob(rng, 40)
			x, y := rng.IntN(n+20)-20, rng.IntN(n+20)-20 // also over the rim
			o.add(m, x, y)
			for my := range m.h {
				for mx := range m.w {
					if m.has(mx, my) && x+mx >= 0 && x+mx < n && y+my >= 0 && y+my < n {
						taken[y+my][x+mx] = true
					}
				}
			}
		}
		m := blob(rng, 30)
		fits := func(x, y int) bool {
			for my := range m.h {
				for mx := range m.w {
					if m.has(mx, my) && taken[y+my][x+mx] {
						return false
					}
				}
			}
			return true
		}
		wantX, wantY, want := 0, 0, false
	search:
		for y := 0; y+m.h <= n; y++ {
			for x := 0; x+m.w <= n; x++ {
				if fits(x, y) {
					wantX, wantY, want = x, y, true
					break search
				}
			}
		}
		f := formOf(m)
		x, y, ok := o.find(f, 0, n)
		if ok != want || ok && (x != wantX || y != wantY) {
			t.Fatalf("round %d: found (%d, %d) %v, want (%d, %d) %v", round, x, y, ok, wantX, wantY, want)
		}
		if s, ok := o.snug(f, 0, n); ok != want || ok && !fits(s.x, s.y) {
			t.Fatalf("round %d: the snug place (%d, %d) %v is not free", round, s.x, s.y, ok)
		}
	}
}

// Bands lie inside their mask, and exact ones are the mask.
func TestBandsLieInside(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 9))
	for range 80 {
		m := blob(rng, 90)
		bands, exact := m.bands()
		covered := newMask(m.w, m.h)
		for _, b := range bands {
			for y := b.y; y < b.y+b.rows; y++ {
				for x := b.x; x < b.x+b.n; x++ {
					if !m.has(x, y) {
						t.Fatalf("band %+v covers (%d, %d), which is free", b, x, y)
					}
				}
				covered.setRun(y, b.x, b.x+b.n-1)
			}
		}
		if exact {
			for i := range m.bits {
				if m.bits[i] != covered.bits[i] {
					t.Fatal("bands are called exact but leave cells out")
				}
			}
		}
	}
}

// A place in a corner touches more than one in the open.
func TestContact(t *testing.T) {
	o := newOccupancy(100, 100)
	m := newMask(10, 10)
	for y := range 10 {
		m.setRun(y, 0, 9)
	}
	f := formOf(m)
	corner, side, open := o.contact(f, 0, 0, 0), o.contact(f, 40, 0, 0), o.contact(f, 40, 40, 0)
	if !(corner > side && side > open && open == 0) {
		t.Errorf("contact in the corner %g, at the side %g, in the open %g", corner, side, open)
	}
}

// A half turn of a mask has the same cells seen from the other corner; two of them nothing.
func TestReversed(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 5))
	for range 60 {
		m := blob(rng, 150)
		r := m.reversed()
		for y := range m.h {
			for x := range m.w {
				if m.has(x, y) != r.has(m.w-1-x, m.h-1-y) {
					t.Fatalf("cell (%d, %d) of a mask %d × %d is lost", x, y, m.w, m.h)
				}
			}
		}
		if !slices.Equal(r.reversed().bits, m.bits) {
			t.Fatal("two half turns are not the identity")
		}
	}
}

// Passing over rows finds the same places, only rarely one that is a little higher.
func TestStrideFindsFreePlaces(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	for range 60 {
		n := 60 + rng.IntN(100)
		o := newOccupancy(n, n)
		for range 10 {
			o.add(blob(rng, 40), rng.IntN(n), rng.IntN(n))
		}
		f := formOf(blob(rng, 20))
		_, lowest, ok := o.find(f, 0, n)
		o.stride = 3
		x, y, found := o.find(f, 0, n)
		if found && !ok || found && y < lowest {
			t.Fatalf("found a place at row %d, the lowest is %d", y, lowest)
		}
		if !found {
			continue
		}
		for my := range f.mask.h {
			for mx := range f.mask.w {
				if f.mask.has(mx, my) && o.row(y + my)[(x+mx)/64]>>((x+mx)%64)&1 == 1 {
					t.Fatalf("the place (%d, %d) is not free", x, y)
				}
			}
		}
	}
}
