package instruments

import (
	"math"
)

// Steady is a run at one setting: means, and standard deviations of them.
type Steady struct {
	From    float64 `json:"from"`
	Seconds float64 `json:"seconds"`
	RPM     float64 `json:"rpm"`
	RPMSure float64 `json:"rpm_sure"`
	SpeedKN float64 `json:"speed_kn"`
	SureKN  float64 `json:"speed_sure_kn"`
	Samples int     `json:"samples"`
	// OfShaft: RPM is the propeller shaft's own, and needs no ratio.
	OfShaft bool `json:"of_shaft,omitempty"`
}

// How still it has to be: at least this long, rpm and speed within these parts
// of their mean.
const (
	steadyFor  = 8.0
	rpmWithin  = 0.02
	knWithin   = 0.04
	longest    = 120.0 // a run is told by its last two minutes
	mostAtOnce = 1500  // samples of it
	// Neighbors in a stream are alike, so that only every so many
	// seconds count as another reading of the mean.
	independent = 2.0
)

// FindSteady finds the longest steady run in samples that come in time's order;
// ok is false where there is none.
func FindSteady(list []Sample) (best Steady, ok bool) {
	from := 0
	for i := range list {
		turns := list[i].HasRPM || list[i].HasShaft
		if !turns || !list[i].HasKN || list[i].Astern || i > 0 && list[i].At-list[i-1].At > 3 {
			from = i + 1
			if turns && list[i].HasKN && !list[i].Astern {
				from = i
			}
			continue
		}
		for list[i].At-list[from].At > longest || i-from > mostAtOnce {
			from++
		}
		for from < i && !still(list[from:i+1]) {
			from++
		}
		if from <= i && list[i].At-list[from].At >= steadyFor && list[i].At-list[from].At > best.Seconds {
			best, ok = mean(list[from:i+1]), true
		}
	}
	return best, ok
}

// still reports whether the run stays within its bounds, its ends not drifting
// apart either.
func still(s []Sample) bool {
	loR, hiR, loK, hiK := math.Inf(1), math.Inf(-1), math.Inf(1), math.Inf(-1)
	for _, x := range s {
		loR, hiR = math.Min(loR, x.turning()), math.Max(hiR, x.turning())
		loK, hiK = math.Min(loK, x.SpeedKN), math.Max(hiK, x.SpeedKN)
	}
	return hiR-loR <= 2*rpmWithin*(hiR+loR)/2 && hiK-loK <= 2*knWithin*(hiK+loK)/2 && hiR > 100 && hiK > 0.5
}

func mean(s []Sample) Steady {
	var out Steady
	n := float64(len(s))
	for _, x := range s {
		out.RPM += x.turning() / n
		out.SpeedKN += x.SpeedKN / n
	}
	var vr, vk float64
	for _, x := range s {
		vr += (x.turning() - out.RPM) * (x.turning() - out.RPM) / n
		vk += (x.SpeedKN - out.SpeedKN) * (x.SpeedKN - out.SpeedKN) / n
	}
	out.From, out.Seconds, out.Samples = s[0].At, s[len(s)-1].At-s[0].At, len(s)
	free := math.Max(1, math.Min(n, out.Seconds/independent))
	out.RPMSure, out.SureKN = math.Sqrt(vr/free), math.Sqrt(vk/free)
	out.OfShaft = !s[len(s)-1].HasRPM
	return out
}

// turning is the engine's rpm, or the shaft's own where no engine is told.
func (x *Sample) turning() float64 {
	if x.HasRPM {
		return x.RPM
	}
	return x.Shaft
}

// MaxLines bounds a recorded file.
const MaxLines = 200_000

// Recorded is a recorded file read through.
type Recorded struct {
	Count   Count    `json:"count"`
	Seconds float64  `json:"seconds"`
	Steady  *Steady  `json:"steady,omitempty"`
	Samples []Sample `json:"samples"` // thinned out for drawing
	Text    string   `json:"text"`
}
