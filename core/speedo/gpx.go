package speedo

import (
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"
	"time"

	"zorvel/core/say"
)

// Limits of what is taken for a fix of a road vehicle.
const (
	maxKMH      = 250.0 // faster than this between two fixes is a jump
	maxHDOP     = 6.0   // worse dilution of precision is left out
	stillKMH    = 2.0   // slower is standing
	stillFor    = 5.0   // s, before standing counts as a pause
	stillOver   = 2.5   // s on either side, over which a speed is told from the fixes' scatter
	smoothOver  = 4.0   // s on either side, the longest way over which fixes are smoothed
	lengthBias  = 2e-4  // part of the length that scatter may add after smoothing
	gapFactor   = 5.0   // times the usual step makes a gap
	gapAtLeast  = 8.0   // s
	accelLimit  = 12.0  // m/s², more than tires can hold
	maxTrackPts = 200_000
)

// Fix is one fix of a track.
type Fix struct {
	Lat, Lon float64
	At       time.Time
	HasTime  bool
	HDOP     float64 // 0 where it isn't given
	Segment  int
}

// ParseGPX reads the fixes of all tracks of a GPX file, version 1.0 or 1.1,
// whatever its name space prefix and extensions; routes and way points are
// left alone.
func ParseGPX(r io.Reader) ([]Fix, error) {
	dec := xml.NewDecoder(r)
	dec.CharsetReader = func(label string, in io.Reader) (io.Reader, error) {
		switch strings.ToLower(label) {
		case "utf-8", "us-ascii", "ascii", "iso-8859-1", "latin1", "windows-1252":
			return in, nil // numbers and times are ASCII in all of them
		}
		return nil, fmt.Errorf("the encoding %q can't be read; save the file as UTF-8", label)
	}
	f := fixes{segment: -1}
	for {
		tok, err := dec.Token()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			var syn *xml.SyntaxError
			if errors.As(err, &syn) {
				return nil, fmt.Errorf("this is no GPX file: line %d: %s", syn.Line, syn.Msg)
			}
			return nil, err
		}
		switch t := tok.(type) {
		case xml.StartElement:
			if err := f.begin(t); err != nil {
				line, _ := dec.InputPos()
				return nil, atLine(err, line)
			}
		case xml.EndElement:
			f.end(t)
		case xml.CharData:
			f.text(t)
		}
	}
	if !f.seen {
		return nil, errors.New("this is no GPX file: it is empty")
	}
	return f.list, nil
}

// fixes collects the track points of a file as it is read.
type fixes struct {
	list    []Fix
	seen    bool // it began as GPX
	segment int
	cur     *Fix
	path    []string
}

var errOffEarth = errors.New("a track point needs lat from −90 to 90 and lon from −180 to 180")

// atLine says where in the file a point is wrong.
func atLine(err error, line int) error {
	if errors.Is(err, errOffEarth) {
		return fmt.Errorf("line %d: %w", line, err)
	}
	return err
}

func (f *fixes) begin(t xml.StartElement) error {
	name := t.Name.Local
	f.path = append(f.path, name)
	if len(f.path) > 100 {
		return errors.New("this is no GPX file: it nests too deep")
	}
	switch {
	case len(f.path) == 1 && name != "gpx":
		return fmt.Errorf("this is no GPX file: it begins with <%s>", say.Clip(name, 40))
	case len(f.path) == 1:
		f.seen = true
	case name == "trkseg" && under(f.path, "trk"):
		f.segment++
	case name == "trkpt" && under(f.path, "trkseg"):
		x := Fix{Segment: f.segment, Lat: math.NaN(), Lon: math.NaN()}
		for _, a := range t.Attr {
			v, err := strconv.ParseFloat(strings.TrimSpace(a.Value), 64)
			switch a.Name.Local {
			case "lat":
				if err == nil {
					x.Lat = v
				}
			case "lon":
				if err == nil {
					x.Lon = v
				}
			}
		}
		if !(math.Abs(x.Lat) <= 90 && math.Abs(x.Lon) <= 180) {
			return errOffEarth
		}
		if len(f.list) >= maxTrackPts {
			return fmt.Errorf("at most %d track points", maxTrackPts)
		}
		f.list = append(f.list, x)
		f.cur = &f.list[len(f.list)-1]
	}
	return nil
}

func (f *fixes) end(t xml.EndElement) {
	if t.Name.Local == "trkpt" {
		f.cur = nil
	}
	if len(f.path) > 0 {
		f.path = f.path[:len(f.path)-1]
	}
}

func (f *fixes) text(t xml.CharData) {
	if f.cur == nil || len(f.path) < 2 || f.path[len(f.path)-2] != "trkpt" {
		return
	}
	text := strings.TrimSpace(string(t))
	switch f.path[len(f.path)-1] {
	case "time":
		if at, ok := parseTime(text); ok {
			f.cur.At, f.cur.HasTime = at, true
		}
	case "hdop":
		if v, err := strconv.ParseFloat(text, 64); err == nil && v > 0 {
			f.cur.HDOP = v
		}
	}
}

func under(path []string, parent string) bool {
	return len(path) >= 2 && path[len(path)-2] == parent
}

// parseTime reads an XML date and time; without a zone it is UTC.
func parseTime(s string) (time.Time, bool) {
	for _, layout := range []string{time.RFC3339Nano, "2006-01-02T15:04:05.999999999", "2006-01-02T15:04:05Z0700"} {
		if t, err := time.Parse(layout, s); err == nil {
			return t.UTC(), true
		}
	}
	return time.Time{}, false
}

// Meters is the distance between two fixes along the WGS 84 ellipsoid, by the
// radii of curvature at their mean latitude (exact to a few parts in a million
// over some kilometers; Torge, Geodesy).
func Meters(a, b Fix) float64 {
	const semiMajor, e2 = 6378137.0, 6.69437999014e-3
	rad := math.Pi / 180
	lat := (a.Lat + b.Lat) / 2 * rad
	dLon := math.Mod(b.Lon-a.Lon+540, 360) - 180
	w := 1 - e2*math.Sin(lat)*math.Sin(lat)
	n := semiMajor / math.Sqrt(w)
	m := semiMajor * (1 - e2) / (w * math.Sqrt(w))
	return math.Hypot(m*(b.Lat-a.Lat)*rad, n*math.Cos(lat)*dLon*rad)
}
