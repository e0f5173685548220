// Package recorded reads files of recorded figures: CSV whose first line names its
// columns, in any order, with a row for each moment. An error names its line and
// column.
package recorded

import (
	"encoding/csv"
	"errors"
	"io"
	"strconv"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
)

// File is a recorded file at one of its rows.
type File struct {
	in    *csv.Reader
	names []string
	at    map[string]int
	row   []string
	line  int
}

// Open reads the head of a file; names of columns are read in small letters. columns say
// what the head of a file looks like, for who gives an empty one.
func Open(text, columns string) (*File, error) {
	f := &File{in: csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff"))), at: map[string]int{}, line: 1}
	f.in.TrimLeadingSpace, f.in.ReuseRecord, f.in.FieldsPerRecord = true, true, -1
	head, err := f.in.Read()
	if err != nil {
		return nil, fault.New("", "the file is empty: its first line names the columns %s", columns)
	}
	for i, name := range head {
		name = strings.ToLower(strings.TrimSpace(name))
		f.names = append(f.names, name)
		f.at[name] = i
	}
	return f, nil
}

// Names are the columns, as the head has them.
func (f *File) Names() []string { return f.names }

// Has is whether the head names a column.
func (f *File) Has(column string) bool {
	_, ok := f.at[column]
	return ok
}

// First is the first of some columns that the head names; "" where it names none.
func (f *File) First(columns ...string) string {
	for _, c := range columns {
		if f.Has(c) {
			return c
		}
	}
	return ""
}

// Next goes to the next row; false at the end.
func (f *File) Next() (bool, error) {
	row, err := f.in.Read()
	if errors.Is(err, io.EOF) {
		return false, nil
	}
	if err != nil {
		return false, fault.New("", "%s", strings.TrimPrefix(err.Error(), "record on "))
	}
	f.row = row
	f.line, _ = f.in.FieldPos(0)
	if len(row) > len(f.names) && strings.Join(row[len(f.names):], "") != "" {
		return false, f.Wrong("%d figures under %d columns: is there a decimal comma? Use a point", len(row),
			len(f.names))
	}
	return true, nil
}

// Cell is what the row has in a column, without spaces around it; "" where it has none.
func (f *File) Cell(column string) string {
	i, ok := f.at[column]
	if !ok || i >= len(f.row) {
		return ""
	}
	return strings.TrimSpace(f.row[i])
}

// Figure is a column's finite figure; given is false where the row has none.
func (f *File) Figure(column string) (v float64, given bool, err error) {
	s := f.Cell(column)
	if s == "" {
		return 0, false, nil
	}
	v, err = strconv.ParseFloat(s, 64)
	if err != nil || v-v != 0 {
		return 0, false, f.Wrong("%s: %.40q is no number", column, s)
	}
	return v, true, nil
}

// Wrong is an error of the line that the file is at.
func (f *File) Wrong(format string, args ...any) error {
	return fault.New("", "line %d: "+format, append([]any{f.line}, args...)...)
}

// Speed is the row's speed in km/h, of a column in km/h or miles per hour.
func (f *File) Speed() (kmh float64, given bool, err error) {
	if f.Has(KMH) {
		return f.Figure(KMH)
	}
	v, given, err := f.Figure(MPH)
	return v * say.KMPerMile, given, err
}

// Columns of speed.
const (
	KMH = "speed_kmh"
	MPH = "speed_mph"
)
