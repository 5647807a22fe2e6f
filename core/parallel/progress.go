package parallel

// Report tells a share of a work done, 0 to 1, if somebody wants to know.
func Report(progress func(float64), share float64) {
	if progress != nil {
		progress(share)
	}
}

// Part tells the progress of a part of a work as that of the whole.
func Part(progress func(float64), from, to float64) func(float64) {
	return func(done float64) { Report(progress, from+(to-from)*done) }
}
