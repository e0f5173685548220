// Package trials is what simulations share: technicians drawn one by one from
// sources of their own and worked on all processors, and the count of how often
// what was called so sure was right.
package trials

import (
	"runtime"
	"sync"
	"sync/atomic"
)

// Band counts the verdicts given with a certainty in a range, and how many of
// them were right.
type Band struct {
	From, To     float64
	Given, Right int
	Claimed      float64 // sum of the certainties given
}

// Add sums up.
func (b *Band) Add(x Band) {
	b.Given += x.Given
	b.Right += x.Right
	b.Claimed += x.Claimed
}

// Bands are ranges of certainty, the lowest first.
type Bands []Band

// NewBands are bands from each edge to the next, the last to 1.
func NewBands(edges ...float64) Bands {
	out := make(Bands, len(edges))
	for i, e := range edges {
		out[i] = Band{From: e, To: 1}
		if i > 0 {
			out[i-1].To = e
		}
	}
	return out
}

// Count takes in a verdict that was called so sure.
func (b Bands) Count(sure float64, right bool) {
	for i := len(b) - 1; i >= 0; i-- {
		if sure >= b[i].From {
			b[i].Add(Band{Given: 1, Right: One(right), Claimed: sure})
			return
		}
	}
}

// Add sums bands of the same edges up.
func (b Bands) Add(x Bands) {
	for i := range b {
		b[i].Add(x[i])
	}
}

// One is 1 for true and 0 for false.
func One(is bool) int {
	if is {
		return 1
	}
	return 0
}

// Pick draws one of n by weight; u is uniform from 0 to the weights' sum.
func Pick(n int, u float64, weight func(int) float64) int {
	for i := range n {
		if u -= weight(i); u < 0 {
			return i
		}
	}
	return n - 1
}

// Run works through count trials in blocks, on all processors. The blocks are
// added in their order, so that floating-point sums don't depend on which was
// done first and the same seeds give the same sums on any machine. progress, if
// not nil, is told how many trials are done, from one goroutine at a time. The
// first error, by block, ends it.
func Run[T any](count, block int, some func(from, to int) (T, error), add func(T), progress func(done int)) error {
	blocks := (count + block - 1) / block
	outs, errs := make([]T, blocks), make([]error, blocks)
	var next atomic.Int64
	var wg sync.WaitGroup
	var telling sync.Mutex
	done := 0
	for range min(runtime.GOMAXPROCS(0), blocks) {
		wg.Go(func() {
			for {
				b := int(next.Add(1)) - 1
				if b >= blocks {
					return
				}
				from, to := b*block, min((b+1)*block, count)
				outs[b], errs[b] = some(from, to)
				telling.Lock()
				if done += to - from; progress != nil {
					progress(done)
				}
				telling.Unlock()
			}
		})
	}
	wg.Wait()
	for b := range outs {
		if errs[b] != nil {
			return errs[b]
		}
		add(outs[b])
	}
	return nil
}
