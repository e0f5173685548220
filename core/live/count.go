package live

import "math"

// Count is what one source tells by itself.
type Count struct {
	Shaft Shaft `json:"shaft"`
	// Pulses as they came, and those of them that were the same mark again.
	Pulses  int `json:"pulses"`
	Doubled int `json:"doubled"`
	// Missed marks, as the other shaft or the neighbors show.
	Missed int `json:"missed"`
	// Turns from the first mark to the last (or of the angle), the ways taken from each
	// other; Low and High hold what was turned in all, with 95 %.
	Turns float64 `json:"turns"`
	Low   float64 `json:"low"`
	High  float64 `json:"high"`
	// Total is all turning, both ways.
	Total float64 `json:"total"`
	// Direction is whether the source tells it; without, turning back counts on.
	Direction bool    `json:"direction"`
	From      float64 `json:"from"`
	To        float64 `json:"to"`
	// Last is how long before the end of the recording its last point is, in seconds.
	Last float64 `json:"last"`
	// Speed at its end, in turns a second.
	Speed float64 `json:"speed"`
	// Level is whether gravity held a phone's angle.
	Level    bool   `json:"level,omitempty"`
	Sentence string `json:"sentence"`
}

// count is what a path tells by itself; end is when the recording ends.
func (p *path) count(end float64) Count {
	c := Count{Shaft: p.shaft, Pulses: p.pulses, Doubled: p.doubled, Missed: p.missed, Direction: p.way,
		Turns: p.net(), Total: p.travel(), Level: p.level}
	c.From, c.To = p.span()
	if len(p.times) > 0 {
		c.Last = max(0, end-c.To)
	}
	c.Low, c.High = p.bounds()
	c.Speed = p.speed(end)
	c.Sentence = p.words(c)
	return c
}

// bounds hold the net turns with 95 %. From the first mark to the last they are known;
// before and after it turned less than a mark, forward or backward as it passed them.
func (p *path) bounds() (low, high float64) {
	if p.step == 0 {
		reach := z95 * math.Hypot(math.Hypot(p.spread, p.bias), p.drift*p.travel())
		return p.net() - reach, p.net() + reach
	}
	n := len(p.turns)
	if n == 0 {
		if p.way {
			return -p.step, p.step
		}
		return 0, p.step
	}
	low, high = p.net(), p.net()
	switch {
	case !p.way && n > 0:
		high += 2 * p.step
	default:
		for _, w := range []int{p.firstWay(), p.wayAt(n - 1)} {
			if w < 0 {
				low -= p.step
			} else {
				high += p.step
			}
		}
	}
	uneven := z95 * math.Sqrt2 * p.spread
	put, missing := p.doubted()
	return low - put*p.step - uneven, high + missing*p.step + uneven
}

const z95 = 1.959963984540054

func (p *path) firstWay() int { return p.wayAt(0) }

// speed at the end, in turns a second; none where nothing moved within four of its last
// intervals.
func (p *path) speed(end float64) float64 {
	n := len(p.times)
	if n < 3 {
		return 0
	}
	from := n - 3
	if p.step == 0 {
		for from > 0 && p.times[n-1]-p.times[from] < 0.3 {
			from--
		}
	}
	took := p.times[n-1] - p.times[from]
	if took <= 0 || end-p.times[n-1] > 2*took {
		return 0
	}
	return (p.turns[n-1] - p.turns[from]) / took
}
