// Package setup sets ring and pinion right: what a trial in the housing says,
// which shims go where next, and when it is good. The law of backlash stands in
// package backlash, the box of shims in package shim.
package setup
