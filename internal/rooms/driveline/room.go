// Package driveline answers for a driveline in a question: its trace, its traction, the ready ones.
package driveline

// Room answers for it; it keeps nothing.
type Room struct{}
