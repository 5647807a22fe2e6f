module morvek

go 1.26.8

require (
	golang.org/x/image v0.47.0
	golang.org/x/sync v0.24.0
	gonum.org/v1/gonum v0.17.0
)

require golang.org/x/sys v0.49.0 // indirect
