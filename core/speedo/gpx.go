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
	var out []Fix
	seen, segment := false, -1
	var cur *Fix
	var path []string
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
			name := t.Name.Local
			path = append(path, name)
			if len(path) > 100 {
				return nil, errors.New("this is no GPX file: it nests too deep")
			}
			switch {
			case len(path) == 1 && name != "gpx":
				return nil, fmt.Errorf("this is no GPX file: it begins with <%s>", say.Clip(name, 40))
			case len(path) == 1:
				seen = true
			case name == "trkseg" && under(path, "trk"):
				segment++
			case name == "trkpt" && under(path, "trkseg"):
				f := Fix{Segment: segment, Lat: math.NaN(), Lon: math.NaN()}
				for _, a := range t.Attr {
					v, err := strconv.ParseFloat(strings.TrimSpace(a.Value), 64)
					switch a.Name.Local {
					case "lat":
						if err == nil {
							f.Lat = v
						}
					case "lon":
						if err == nil {
							f.Lon = v
						}
					}
				}
				if !(math.Abs(f.Lat) <= 90 && math.Abs(f.Lon) <= 180) {
					line, _ := dec.InputPos()
					return nil, fmt.Errorf("line %d: a track point needs lat from −90 to 90 and lon from −180 to 180", line)
				}
				if len(out) >= maxTrackPts {
					return nil, fmt.Errorf("at most %d track points", maxTrackPts)
				}
				out = append(out, f)
				cur = &out[len(out)-1]
			}
		case xml.EndElement:
			if t.Name.Local == "trkpt" {
				cur = nil
			}
			if len(path) > 0 {
				path = path[:len(path)-1]
			}
		case xml.CharData:
			if cur == nil || len(path) < 2 || path[len(path)-2] != "trkpt" {
				continue
			}
			text := strings.TrimSpace(string(t))
			switch path[len(path)-1] {
			case "time":
				if at, ok := parseTime(text); ok {
					cur.At, cur.HasTime = at, true
				}
			case "hdop":
				if v, err := strconv.ParseFloat(text, 64); err == nil && v > 0 {
					cur.HDOP = v
				}
			}
		}
	}
	if !seen {
		return nil, errors.New("this is no GPX file: it is empty")
	}
	return out, nil
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
