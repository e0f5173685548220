package catalog

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"

	"zorvel/core/fault"
	"zorvel/core/say"
	"zorvel/core/typed"
)

// MaxLines bounds a file.
const MaxLines = 20_000

// Line is a line of a file: what it holds and what is wrong with it.
type Line struct {
	Line   int // in the file, from 1
	Cells  Row // checked where nothing is wrong, else as they stand there
	Faults fault.Errors
	given  map[string]bool // the file's columns
}

// Onto lays a line over the row that is there: columns that the file does not
// have stay as they are. Faults of the two together are the line's.
func (x *Line) Onto(l List, old Row) {
	if len(x.Faults) > 0 {
		return
	}
	row := Row{}
	for _, c := range l.Columns {
		from := old
		if x.given[c.Key] {
			from = x.Cells
		}
		if v := from[c.Key]; v != "" {
			row[c.Key] = v
		}
	}
	row, err := l.Check(row)
	if err != nil {
		spread(err, &x.Faults)
		return
	}
	x.Cells = row
}

// ReadCSV reads a list from CSV. The first line names the columns, by key or
// by name, in any order; commas or semicolons part them. Every line is given
// back with its faults. The error is about the file as a whole.
func (l List) ReadCSV(text string) ([]Line, error) {
	text = strings.TrimPrefix(text, "\ufeff")
	c := csv.NewReader(strings.NewReader(text))
	if first, _, _ := strings.Cut(text, "\n"); strings.Count(first, ";") > strings.Count(first, ",") {
		c.Comma = ';'
	}
	c.FieldsPerRecord, c.TrimLeadingSpace = -1, true
	head, err := c.Read()
	if err != nil {
		return nil, fault.New("text", "the first line names the columns: %s", strings.Join(l.Keys(), ","))
	}
	keys, seen, err := l.heads(head)
	if err != nil {
		return nil, err
	}
	out := []Line{}
	at := map[string]int{}
	for {
		rec, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			out = append(out, Line{Line: bad.Line, Cells: Row{}, Faults: fault.Errors{fault.New("", "can't be read: %v", bad.Err)}})
			break // what follows an open quote is no table any more
		}
		if err != nil {
			return nil, fault.New("text", "%v", err)
		}
		n, _ := c.FieldPos(0)
		line := lineOf(n, rec, keys)
		line.given = seen
		if len(line.Cells) == 0 && len(line.Faults) == 0 {
			continue // an empty line
		}
		if len(out) >= MaxLines {
			return nil, fault.New("text", "at most %d lines at once", MaxLines)
		}
		row, err := l.Check(line.Cells)
		if err != nil {
			spread(err, &line.Faults)
		} else {
			id := l.Identity(row)
			if before, ok := at[id]; ok {
				line.Faults.Add("", "the same as line %d", before)
			}
			at[id], line.Cells = n, row
		}
		out = append(out, line)
	}
	if len(out) == 0 {
		return nil, fault.New("text", "there is nothing below the line of column names")
	}
	return out, nil
}

// heads reads the first line: the column of each cell, and which there are.
func (l List) heads(head []string) (keys []string, seen map[string]bool, err error) {
	keys, seen = make([]string, len(head)), map[string]bool{}
	for i, h := range head {
		k, ok := l.column(h)
		if !ok {
			return nil, nil, fault.New("text", "line 1: there is no column %q; the columns are %s", say.Clip(h, 30), strings.Join(l.Keys(), ", "))
		}
		if seen[k] {
			return nil, nil, fault.New("text", "line 1: the column %q is there twice", k)
		}
		keys[i], seen[k] = k, true
	}
	for _, col := range l.Columns {
		if col.Required && col.Default == "" && !seen[col.Key] {
			return nil, nil, fault.New("text", "line 1: the column %q is missing", col.Key)
		}
	}
	return keys, seen, nil
}

// lineOf is a line with its cells under their columns, as they stand there.
func lineOf(n int, rec, keys []string) Line {
	line := Line{Line: n, Cells: Row{}}
	for i, v := range rec {
		v = typed.Uncell(strings.TrimSpace(v))
		if i >= len(keys) {
			if v != "" {
				line.Faults.Add("", "there are %d cells and %d columns", len(rec), len(keys))
				break
			}
			continue
		}
		if v != "" {
			line.Cells[keys[i]] = v
		}
	}
	return line
}

// column finds a column by its key, or by its name where that is unique.
func (l List) column(h string) (string, bool) {
	h = strings.ToLower(strings.TrimSpace(h))
	found := ""
	for _, c := range l.Columns {
		if h == c.Key {
			return c.Key, true
		}
		if h == strings.ToLower(c.Name) {
			if found != "" {
				return "", false
			}
			found = c.Key
		}
	}
	return found, found != ""
}

// WriteCSV writes rows with all columns. Text that a spreadsheet would take
// for a formula gets an apostrophe in front, which ReadCSV takes off.
func (l List) WriteCSV(rows []Row) string {
	var b strings.Builder
	w := csv.NewWriter(&b)
	_ = w.Write(l.Keys()) // a strings.Builder takes everything
	for _, r := range rows {
		rec := make([]string, len(l.Columns))
		for i, c := range l.Columns {
			rec[i] = typed.Cell(r[c.Key])
		}
		_ = w.Write(rec)
	}
	w.Flush()
	return b.String()
}

// Difference says what changed from one row to another, for the history.
func (l List) Difference(before, after Row) string {
	var parts []string
	for _, c := range l.Columns {
		a, b := before[c.Key], after[c.Key]
		if a == b {
			continue
		}
		if a == "" {
			a = "empty"
		}
		if b == "" {
			b = "empty"
		}
		parts = append(parts, fmt.Sprintf("%s %s → %s", strings.ToLower(c.Name), a, b))
	}
	return strings.Join(parts, ", ")
}
