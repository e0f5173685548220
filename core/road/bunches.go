package road

import (
	"math"
	"sort"
)

// bunches finds where the samples stand together: peaks of their density in logarithms,
// each with a share of the samples that chance doesn't make.
func bunches(list []point, between Between) []Bunch {
	if len(list) == 0 {
		return []Bunch{}
	}
	const cell = width / 4
	from := list[0].log - 4*width
	n := int((list[len(list)-1].log-from)/cell) + 20
	density := make([]float64, n)
	for _, p := range list {
		at := (p.log - from) / cell
		for k := max(0, int(at)-10); k < min(n, int(at)+12); k++ {
			d := (float64(k) - at) * cell / width
			density[k] += math.Exp(-d * d * 2)
		}
	}
	out := []Bunch{}
	least := max(8, 0.012*float64(len(list)))
	for k := 1; k+1 < n; k++ {
		if density[k] <= density[k-1] || density[k] < density[k+1] || density[k] < least*0.5 {
			continue
		}
		peak := from + float64(k)*cell
		b, ok := around(list, peak, between)
		if !ok || float64(b.Samples) < least {
			continue
		}
		if m := len(out); m > 0 && math.Log(b.Overall/out[m-1].Overall) < gearStep {
			// Closer than two gears ever are: slip of the lower one, or noise of the larger.
			if between == Clutch && b.Samples > out[m-1].Samples {
				out[m-1] = b
			} else {
				out[m-1].Smeared = out[m-1].Smeared || between == Converter
			}
			continue
		}
		out = append(out, b)
	}
	return out
}

// gearStep is less than between any two gears, as a logarithm.
const gearStep = 0.075

// around measures the bunch at a peak. The gear of a clutch is the middle; that of a
// converter is at the lower edge, where slip can't reach: the mode, which the locked or
// hardly slipping samples make.
func around(list []point, peak float64, between Between) (Bunch, bool) {
	lo := sort.Search(len(list), func(i int) bool { return list[i].log >= peak-2.5*width })
	hi := sort.Search(len(list), func(i int) bool { return list[i].log > peak+2.5*width })
	if hi-lo < 5 {
		return Bunch{}, false
	}
	// The noise shows below the peak alone: nothing smears a driven bunch downward.
	below, sum := 0.0, 0.0
	for _, p := range list[lo:hi] {
		if p.log <= peak {
			below, sum = below+1, sum+(p.log-peak)*(p.log-peak)
		}
	}
	sigma := math.Sqrt(sum / max(below, 1))
	at := peak
	if between == Clutch {
		at = (list[lo+(hi-lo)/2].log + peak) / 2
	}
	b := Bunch{Overall: math.Exp(at), Samples: hi - lo, Low: math.Exp(list[lo+(hi-lo)/20].log),
		High: math.Exp(list[hi-1-(hi-lo)/20].log)}
	b.Spread = b.Overall * math.Max(sigma/math.Sqrt(max(below, 1)/4), 0.001)
	b.Smeared = between == Converter && float64(hi-lo)-below > 1.7*below
	return b, true
}
