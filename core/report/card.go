package report

import (
	"fmt"

	"morvek/core/document"
	"morvek/core/mesh"
	"morvek/core/proof"
	"morvek/core/shape"
)

// Mark is the state of a cell of the route card.
type Mark string

// The marks; each has its own shape on the card.
const (
	Undone    Mark = "open"      // nothing done yet
	Suggested Mark = "suggested" // Morvek did it; nobody has looked
	ByHand    Mark = "hand"      // somebody did it
	Wrong     Mark = "wrong"     // must be looked at, with a number
	Signed    Mark = "signed"    // a person accepted it
	NotNeeded Mark = "none"
)

// Cell is one station of one part.
type Cell struct {
	Mark Mark
	Text string // the number of a wrong cell
	Hint string // what the mark means, in words
}

// Signable tells whether a person can sign a cell: something was done there, and nothing is wrong.
func (c Cell) Signable() bool { return c.Mark == Suggested || c.Mark == ByHand }

// Row is a part on the route card.
type Row struct {
	Part  document.PartID
	Name  string
	Shape shape.Kind
	Error float64 // of its fit, model units
	Faces int
	First mesh.FaceID
	Of    document.PartID // the part it is equal to, or NoPart
	Times int             // how many there are of it, itself included
	Cells [6]Cell         // by station
}

// Stations are the columns of the route card.
var Stations = [6]string{"Parts", "Project", "Seams", "Flow", "Sheet", "Proof"}

// Card is the route card: what is done and what is left, part by part.
type Card struct {
	Rows []Row
	ToDo [6]int // cells that are open or wrong
	Look [6]int // cells that nobody signed yet, besides those that are not needed

	Now []document.Signature // of each part, as it would be signed now
}

// CardOf draws up the route card from the state and its measure.
func CardOf(d *document.Document, r proof.Report) Card {
	s := d.State
	faces := s.PartFaces()
	tallies := make([]tally, len(s.Parts))
	placed := map[int]bool{}
	for _, f := range s.Wishes.Placed {
		placed[int(r.ShellOf[f])] = true
	}
	for i := range r.Shells {
		sh := &r.Shells[i]
		b := sh.Box
		for _, p := range s.PartsOf(sh.Faces) { // attached parts share a shell
			t := &tallies[p]
			t.shells = append(t.shells, &r.Shells[i])
			t.placed = t.placed || placed[i]
			switch {
			case s.Shown.Purpose == document.Tiling || sh.StackedOn != nil: // anywhere is in place
			case b.Max.Y <= 0:
				t.waiting++
			case !s.Settings.Sheet.Holds(b):
				t.outside++
			}
		}
	}
	for _, f := range r.Findings {
		if f.Accepted != "" {
			continue
		}
		for _, p := range s.PartsOf(f.Faces) {
			tallies[p].findings++
		}
	}
	times := map[document.PartID]int{}
	for _, p := range s.Parts {
		if p.RepeatOf != nil {
			times[*p.RepeatOf]++
		}
	}
	c := Card{Now: make([]document.Signature, len(s.Parts)), Rows: make([]Row, 0, len(s.Parts))}
	for i, p := range s.Parts {
		if len(faces[i]) == 0 {
			continue
		}
		row := Row{Part: document.PartID(i), Name: p.Name, Shape: p.Fit.Reads(), Error: p.Fit.Error, Faces: len(faces[i]), First: faces[i][0], Of: document.NoPart, Times: 1 + times[document.PartID(i)]}
		if p.RepeatOf != nil {
			row.Of = *p.RepeatOf
		}
		c.Now[i] = tallies[i].signature(p, len(faces[i]))
		row.Cells = cells(s, p, faces[i], tallies[i])
		for k, cell := range row.Cells {
			if cell.Signable() && signed(p, c.Now[i], k) {
				row.Cells[k] = Cell{Signed, "", "signed: " + cell.Hint}
				continue
			}
			if cell.Mark == Undone || cell.Mark == Wrong {
				c.ToDo[k]++
			}
			if cell.Mark != NotNeeded {
				c.Look[k]++
			}
		}
		c.Rows = append(c.Rows, row)
	}
	return c
}

// tally is what the measure says of a part.
type tally struct {
	shells                     []*proof.Shell
	waiting, outside, findings int  // shells on the rack, shells outside the sheet, findings
	placed                     bool // somebody put a shell where it lies
}

// worst is the worst stretch of angles and error of the grain of its shells.
func (t tally) worst() (stretch, grainDeg float64) {
	for _, sh := range t.shells {
		stretch, grainDeg = max(stretch, sh.AngularP95), max(grainDeg, sh.GrainOverDeg)
	}
	return stretch, grainDeg
}

// signature is what is signed of a part with so many faces, at no station yet.
func (t tally) signature(p *document.Part, faces int) document.Signature {
	stretch, grain := t.worst()
	return document.Signature{Shape: p.Fit.Kind, Faces: faces, Shells: len(t.shells), Stretch: stretch, Grain: grain, Findings: t.findings}
}

func cells(s *document.State, p *document.Part, faces []mesh.FaceID, t tally) (c [6]Cell) {
	done := Cell{Suggested, "", "done by Morvek"}
	if p.ByHand {
		done = Cell{ByHand, "", "changed by hand"}
	}
	mapped := 0
	for _, f := range faces {
		if s.Map.IsMapped(f) {
			mapped++
		}
	}
	recognised := p.Method != "" || p.Fit.Reads() != shape.Free || p.Grain.Mode != ""
	if recognised {
		c[0] = Cell{Suggested, "", fmt.Sprintf("recognised as %s", p.Fit.Reads())}
	} else {
		c[0] = Cell{Undone, "", "not recognised yet"}
	}
	tiling := s.Shown.Purpose == document.Tiling
	switch {
	case mapped == 0 && tiling: // it holds what was put there
		for i := 1; i < len(c); i++ {
			c[i] = Cell{NotNeeded, "", "not in this map"}
		}
		return c
	case mapped == 0:
		c[1] = Cell{Undone, "", "not projected yet"}
		c[2], c[3], c[4], c[5] = Cell{Undone, "", "no seams yet"}, Cell{Undone, "", "nothing to straighten yet"},
			Cell{Undone, "", "not on the sheet"}, Cell{Undone, "", "nothing to prove yet"}
		return c
	case mapped < len(faces) && tiling:
		c[1] = Cell{done.Mark, "", fmt.Sprintf("%d of its faces are in this map", mapped)}
	case mapped < len(faces):
		c[1] = Cell{Wrong, fmt.Sprint(len(faces) - mapped), "faces without a map"}
	case p.Method == "":
		c[1] = Cell{Suggested, "", "came with the model"}
	default:
		c[1] = Cell{done.Mark, "", p.Method}
	}
	stretch, grain := t.worst()
	c[2] = done
	if stretch > 1.15 {
		c[2] = Cell{Wrong, stretchText(stretch), "angular stretch: another cut would help"}
	}
	c[3] = done
	if p.Grain.Mode == "" {
		c[3] = Cell{NotNeeded, "–", "has no grain"}
	} else if grain > 5 {
		c[3] = Cell{Wrong, fmt.Sprintf("%.0f°", grain), "off the grain"}
	}
	switch {
	case t.outside > 0:
		c[4] = Cell{Wrong, fmt.Sprint(t.outside), "shells outside the sheet"}
	case t.waiting > 0:
		c[4] = Cell{Undone, "", fmt.Sprintf("%d shells wait on the rack", t.waiting)}
	case t.placed:
		c[4] = Cell{ByHand, "", "laid by hand"}
	default:
		c[4] = done
	}
	if t.findings > 0 {
		c[5] = Cell{Wrong, fmt.Sprint(t.findings), "findings"}
	} else {
		c[5] = Cell{Suggested, "", "nothing found"}
	}
	return c
}

func stretchText(s float64) string {
	if s >= 10 {
		return "10+"
	}
	return fmt.Sprintf("%.2f", s)
}
