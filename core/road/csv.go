package road

import (
	"encoding/csv"
	"errors"
	"io"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// ReadCSV reads a drive: a head that names the columns seconds, rpm and speed_kmh (or
// speed_mph), in any order, others beside them, and a row for each moment. A row without
// one of them is left out.
func ReadCSV(text string) ([]Sample, error) {
	in := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	in.TrimLeadingSpace, in.ReuseRecord, in.FieldsPerRecord = true, true, -1
	head, err := in.Read()
	if err != nil {
		return nil, fault.New("", "the file is empty: its first line names the columns seconds,rpm,speed_kmh")
	}
	at := map[string]int{}
	for i, name := range head {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	speed, mph := at["speed_kmh"]
	factor := 1.0
	if !mph {
		if speed, mph = at["speed_mph"]; mph {
			factor = say.KMPerMile
		}
	}
	seconds, timed := at["seconds"]
	rpm, turned := at["rpm"]
	if !timed || !turned || !mph {
		return nil, fault.New("", "line 1: the columns seconds, rpm and speed_kmh (or speed_mph) are needed")
	}
	var out []Sample
	for {
		row, err := in.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fault.New("", "%s", strings.TrimPrefix(err.Error(), "record on "))
		}
		line, _ := in.FieldPos(0)
		if slices.Max([]int{seconds, rpm, speed}) >= len(row) {
			continue
		}
		var v [3]float64
		gap := false
		for i, c := range []int{seconds, rpm, speed} {
			s := strings.TrimSpace(row[c])
			if s == "" {
				gap = true
				break
			}
			if v[i], err = strconv.ParseFloat(s, 64); err != nil || v[i]-v[i] != 0 {
				return nil, fault.New("", "line %d: %.40q is no number", line, s)
			}
		}
		if gap {
			continue
		}
		if len(out) == MostSamples {
			return nil, fault.New("", "line %d: more than %d samples: cut the file", line, MostSamples)
		}
		out = append(out, Sample{v[0], v[1], v[2] * factor})
	}
	if len(out) == 0 {
		return nil, fault.New("", "the file has no rows with time, engine speed and road speed")
	}
	return out, nil
}
