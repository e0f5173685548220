package listen

import (
	"encoding/csv"
	"errors"
	"io"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// columns are the names under which a file's columns are known, and what their figures
// are multiplied by.
var columns = map[string]struct {
	what   string
	factor float64
}{
	"seconds": {"at", 1}, "t_s": {"at", 1}, "time_s": {"at", 1},
	"speed_kmh": {"speed", 1}, "speed_mph": {"speed", say.KMPerMile},
	"rpm": {"rpm", 1}, "engine_rpm": {"rpm", 1},
}

// ReadCSV reads speed and engine speed as they were recorded beside a sound: a head that
// names seconds (or t_s) and speed_kmh, speed_mph or rpm (or engine_rpm), other columns
// beside them, and a row for each moment. What is empty is left out.
func ReadCSV(text string) (speed, rpm []Reading, err error) {
	in := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	in.TrimLeadingSpace, in.ReuseRecord, in.FieldsPerRecord = true, true, -1
	head, err := in.Read()
	if err != nil {
		return nil, nil, fault.New("", "the file is empty: its first line names the columns seconds,speed_kmh,rpm")
	}
	at := map[string]int{}
	factor := 1.0
	for i, name := range head {
		if c, ok := columns[strings.ToLower(strings.TrimSpace(name))]; ok {
			at[c.what] = i
			if c.what == "speed" {
				factor = c.factor
			}
		}
	}
	_, timed := at["at"]
	if _, a := at["speed"]; !timed || !a && !has(at, "rpm") {
		return nil, nil, fault.New("", "line 1: the columns seconds and speed_kmh, speed_mph or rpm are needed")
	}
	for {
		row, err := in.Read()
		if errors.Is(err, io.EOF) {
			return speed, rpm, nil
		}
		if err != nil {
			return nil, nil, fault.New("", "%s", strings.TrimPrefix(err.Error(), "record on "))
		}
		line, _ := in.FieldPos(0)
		v := map[string]float64{}
		for what, i := range at {
			if i >= len(row) || strings.TrimSpace(row[i]) == "" {
				continue
			}
			x, err := strconv.ParseFloat(strings.TrimSpace(row[i]), 64)
			if err != nil {
				return nil, nil, fault.New("", "line %d: %q is no number", line, row[i])
			}
			v[what] = x
		}
		t, ok := v["at"]
		if !ok {
			continue
		}
		if x, ok := v["speed"]; ok {
			speed = append(speed, Reading{t, x * factor})
		}
		if x, ok := v["rpm"]; ok {
			rpm = append(rpm, Reading{t, x})
		}
		if max(len(speed), len(rpm)) > MostReadings {
			return nil, nil, fault.New("", "at most %d lines", MostReadings)
		}
	}
}

func has(m map[string]int, k string) bool {
	_, ok := m[k]
	return ok
}
