package drawn

import (
	"runtime"
	"sync"

	"zorvel/core/sight"
)

// Levels are all of them, easiest first.
var Levels = []string{Easy, Medium, Hard, Hopeless}

// Band is a range of stated chances, and how often the count was right.
type Band struct {
	From, To float64
	Counts   int
	Stated   float64 // sum of the chances
	Right    int
}

// Outcome is how counting went on pictures of one level.
type Outcome struct {
	Level    string
	Pictures int
	Right    int // the count named first, sure or not
	Sure     int // counts called sure
	Wrong    int // of those
}

// Try draws pictures of every level in turn, counts on each, and tells how often counts
// are right and whether chances hold. The same seed gives the same pictures; done is
// called after each.
func Try(pictures int, seed uint64, done func()) ([]Outcome, []Band) {
	type count struct {
		level int
		truth int
		a     *sight.Answer
	}
	counts := make([]count, pictures)
	jobs := make(chan int)
	var wg sync.WaitGroup
	var mu sync.Mutex
	for range runtime.GOMAXPROCS(0) {
		wg.Go(func() {
			for i := range jobs {
				s := Some(Levels[i%len(Levels)], seed+uint64(i))
				p := Draw(s)
				a, err := sight.Work(sight.Question{Gray: p.Gray, Width: p.Width, Height: p.Height})
				if err != nil {
					a = &sight.Answer{}
				}
				mu.Lock()
				counts[i] = count{i % len(Levels), s.Teeth, a}
				done()
				mu.Unlock()
			}
		})
	}
	for i := range pictures {
		jobs <- i
	}
	close(jobs)
	wg.Wait()
	outcomes := make([]Outcome, len(Levels))
	bands := []Band{{From: 0, To: 0.3}, {From: 0.3, To: 0.5}, {From: 0.5, To: 0.7}, {From: 0.7, To: 0.9}, {From: 0.9,
		To: 0.97}, {From: 0.97, To: 1.01}}
	for _, c := range counts {
		o := &outcomes[c.level]
		o.Level = Levels[c.level]
		o.Pictures++
		right := c.a.Teeth > 0 && c.a.Teeth == c.truth && o.Level != Hopeless
		if right {
			o.Right++
		}
		if c.a.State == sight.Sure {
			if o.Sure++; !right {
				o.Wrong++
			}
		}
		for i := range bands {
			if b := &bands[i]; c.a.Teeth > 0 && c.a.Chance >= b.From && c.a.Chance < b.To {
				b.Counts++
				b.Stated += c.a.Chance
				if right {
					b.Right++
				}
			}
		}
	}
	return outcomes, bands
}
