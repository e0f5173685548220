package road

import (
	"zorvel/core/fault"
	"zorvel/core/recorded"
)

// ReadCSV reads a drive: a head that names the columns seconds, rpm and speed_kmh (or
// speed_mph), in any order, others beside them, and a row for each moment. A row without
// one of them is left out.
func ReadCSV(text string) ([]Sample, error) {
	f, err := recorded.Open(text, "seconds,rpm,speed_kmh")
	if err != nil {
		return nil, err
	}
	if !f.Has("seconds") || !f.Has("rpm") || f.First(recorded.KMH, recorded.MPH) == "" {
		return nil, f.Wrong("the columns seconds, rpm and speed_kmh (or speed_mph) are needed")
	}
	var out []Sample
	for {
		more, err := f.Next()
		if err != nil {
			return nil, err
		}
		if !more {
			break
		}
		at, a, err := f.Figure("seconds")
		if err != nil {
			return nil, err
		}
		rpm, b, err := f.Figure("rpm")
		if err != nil {
			return nil, err
		}
		kmh, c, err := f.Speed()
		if err != nil {
			return nil, err
		}
		if !a || !b || !c {
			continue
		}
		if len(out) == MostSamples {
			return nil, f.Wrong("more than %d samples: cut the file", MostSamples)
		}
		out = append(out, Sample{at, rpm, kmh})
	}
	if len(out) == 0 {
		return nil, fault.New("", "the file has no rows with time, engine speed and road speed")
	}
	return out, nil
}
