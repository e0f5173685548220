package listen

import "zorvel/core/recorded"

// ReadCSV reads speed and engine speed as they were recorded beside a sound: a head that
// names seconds (or t_s) and speed_kmh, speed_mph or rpm (or engine_rpm), other columns
// beside them, and a row for each moment. What is empty is left out.
func ReadCSV(text string) (speed, rpm []Reading, err error) {
	f, err := recorded.Open(text, "seconds,speed_kmh,rpm")
	if err != nil {
		return nil, nil, err
	}
	timed, turned := f.First("seconds", "t_s", "time_s"), f.First("rpm", "engine_rpm")
	if timed == "" || turned == "" && f.First(recorded.KMH, recorded.MPH) == "" {
		return nil, nil, f.Wrong("the columns seconds and speed_kmh, speed_mph or rpm are needed")
	}
	for {
		more, err := f.Next()
		if err != nil || !more {
			return speed, rpm, err
		}
		t, given, err := f.Figure(timed)
		if err != nil {
			return nil, nil, err
		}
		if !given {
			continue
		}
		kmh, given, err := f.Speed()
		if err != nil {
			return nil, nil, err
		}
		if given {
			speed = append(speed, Reading{t, kmh})
		}
		turns, given, err := f.Figure(turned)
		if err != nil {
			return nil, nil, err
		}
		if given {
			rpm = append(rpm, Reading{t, turns})
		}
		if max(len(speed), len(rpm)) > MostReadings {
			return nil, nil, f.Wrong("at most %d rows: cut the file", MostReadings)
		}
	}
}
