package live

import (
	"encoding/csv"
	"slices"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/recorded"
)

// columns of a recorded file, in the order in which they are written. A row is one point
// of one shaft: a mark that passed (marks a turn, and the way where it is told), an angle
// (degrees), or what a phone sensed.
var columns = []string{"shaft", "seconds", "marks", "way", "degrees", "rate_x", "rate_y", "rate_z", "accel_x",
	"accel_y", "accel_z"}

// ReadCSV reads a recorded file: a head that names the columns, in any order, and a row
// for each point. Errors name the line and its column.
func ReadCSV(text string) ([]Source, error) {
	in, err := recorded.Open(text, strings.Join(columns[:5], ","))
	if err != nil {
		return nil, err
	}
	for _, name := range in.Names() {
		if !slices.Contains(columns, name) {
			return nil, in.Wrong("%.40q is no column; use %s", name, strings.Join(columns, ","))
		}
	}
	for _, need := range columns[:2] {
		if !in.Has(need) {
			return nil, in.Wrong("the column %s is missing", need)
		}
	}
	f := csvFile{File: in, by: map[Shaft]int{}}
	for {
		more, err := f.Next()
		if err != nil {
			return nil, err
		}
		if !more {
			break
		}
		if err := f.point(); err != nil {
			return nil, err
		}
	}
	if len(f.out) == 0 {
		return nil, fault.New("", "the file has no rows: add one for each mark that passed")
	}
	return f.out, nil
}

type csvFile struct {
	*recorded.File
	by     map[Shaft]int
	out    []Source
	points int
}

// point adds the row to its source.
func (f *csvFile) point() error {
	if f.points++; f.points > MostPoints {
		return f.Wrong("more than %d points: cut the file", MostPoints)
	}
	shaft := Shaft(strings.ToLower(f.Cell("shaft")))
	i, ok := f.by[shaft]
	if !ok {
		if len(f.out) == MostSources {
			return f.Wrong("shaft: %.40q is one more than the %d shafts of a file", shaft, MostSources)
		}
		i = len(f.out)
		f.by[shaft] = i
		f.out = append(f.out, Source{Shaft: shaft})
	}
	t, given, err := f.Figure("seconds")
	if err != nil {
		return err
	}
	if !given {
		return f.Wrong("seconds: say when")
	}
	s := &f.out[i]
	if f.Cell("rate_x") != "" {
		return f.motion(s, t)
	}
	if degrees, given, err := f.Figure("degrees"); err != nil || given {
		if err == nil && s.Marks > 0 {
			err = f.Wrong("degrees: this shaft has marks in other rows; use one of them")
		}
		s.Times, s.Degrees = append(s.Times, t), append(s.Degrees, degrees)
		return err
	}
	return f.mark(s, t)
}

func (f *csvFile) mark(s *Source, t float64) error {
	marks, given, err := f.Figure("marks")
	if err != nil {
		return err
	}
	if !given || marks != float64(int(marks)) {
		return f.Wrong("marks: say how many marks a turn the shaft has, a whole number")
	}
	if len(s.Degrees) > 0 {
		return f.Wrong("marks: this shaft has degrees in other rows; use one of them")
	}
	if s.Marks != 0 && s.Marks != int(marks) {
		return f.Wrong("marks: %d here and %d before: a shaft has the same marks in all rows", int(marks), s.Marks)
	}
	s.Marks = int(marks)
	way, given, err := f.Figure("way")
	if err != nil {
		return err
	}
	switch {
	case given && way != 1 && way != -1:
		return f.Wrong("way: 1 or -1")
	case given != (len(s.Ways) > 0) && len(s.Times) > 0:
		return f.Wrong("way: give it in all rows of a shaft, or in none")
	case given:
		s.Ways = append(s.Ways, int(way))
	}
	s.Times = append(s.Times, t)
	return nil
}

func (f *csvFile) motion(s *Source, t float64) error {
	m := Motion{At: t}
	for k, axis := range []string{"x", "y", "z"} {
		for name, to := range map[string]*float64{"rate_" + axis: &m.Rate[k], "accel_" + axis: &m.Accel[k]} {
			v, given, err := f.Figure(name)
			if err != nil {
				return err
			}
			if !given {
				return f.Wrong("%s: a phone's row has all six of its figures", name)
			}
			*to = v
		}
	}
	s.Motion = append(s.Motion, m)
	return nil
}

// WriteCSV writes sources as ReadCSV reads them, one shaft after the other.
func WriteCSV(list []Source) string {
	var out strings.Builder
	w := csv.NewWriter(&out)
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	_ = w.Write(columns)
	row := make([]string, len(columns))
	for _, s := range list {
		for i, t := range s.Times {
			clear(row)
			row[0], row[1] = string(s.Shaft), num(t)
			if len(s.Degrees) > 0 {
				row[4] = num(s.Degrees[i])
			} else {
				row[2] = strconv.Itoa(s.Marks)
			}
			if len(s.Ways) > 0 {
				row[3] = strconv.Itoa(s.Ways[i])
			}
			_ = w.Write(row)
		}
		for _, m := range s.Motion {
			clear(row)
			row[0], row[1] = string(s.Shaft), num(m.At)
			for k := range 3 {
				row[5+k], row[8+k] = num(m.Rate[k]), num(m.Accel[k])
			}
			_ = w.Write(row)
		}
	}
	w.Flush()
	return out.String()
}
