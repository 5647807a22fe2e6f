package report

import "morvek/core/document"

// signedWithin is the share by which a measure may be worse than when a cell was signed.
const signedWithin = 0.002

// holds tells whether a signature of a station still says what is there: of Parts what the part is, of
// Project and Seams its shells and how they stretch, of Flow their grain too, of Proof that nothing was
// found besides.
func holds(was, is document.Signature, station int) bool {
	worse := func(a, b float64) bool { return b > a*(1+signedWithin)+1e-9 }
	switch station {
	case 0:
		return was.Shape == is.Shape && was.Faces == is.Faces
	case 3:
		return was.Faces == is.Faces && was.Shells == is.Shells && !worse(was.Stretch, is.Stretch) && !worse(was.Grain, is.Grain)
	case 4:
		return was.Faces == is.Faces && was.Shells == is.Shells
	case 5:
		return is.Findings <= was.Findings
	}
	return was.Faces == is.Faces && was.Shells == is.Shells && !worse(was.Stretch, is.Stretch)
}

// signed tells whether a cell of a part is signed as it is now.
func signed(p *document.Part, now document.Signature, station int) bool {
	for _, was := range p.Signed {
		if was.Station == station && holds(was, now, station) {
			return true
		}
	}
	return false
}
