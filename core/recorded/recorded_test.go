package recorded

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// Whatever the order and case of its columns, with a mark of its encoding, with spaces
// and short rows, a file reads the same; what is missing differs from zero.
func TestRows(t *testing.T) {
	for _, text := range []string{"Seconds, RPM ,note\n1,2000,x\n2,,\n3\n",
		"\ufeffnote,rpm,seconds\nx,2000,1\n, ,2\n,,3\n",
		"seconds,rpm\r\n1,2000\r\n2,\r\n\r\n3,\r\n"} {
		f, err := Open(text, "seconds,rpm")
		if err != nil {
			t.Fatal(err)
		}
		for i := range 3 {
			more, err := f.Next()
			at, given, err2 := f.Figure("seconds")
			rpm, turned, err3 := f.Figure("rpm")
			if !more || err != nil || err2 != nil || err3 != nil || !given || at != float64(i+1) ||
				turned != (i == 0) ||
				turned && rpm != 2000 {
				t.Errorf("%q, row %d: %v at %g (%v), %g (%v), %v %v %v", text, i, more, at, given, rpm, turned, err,
					err2, err3)
			}
		}
		if more, err := f.Next(); more || err != nil {
			t.Errorf("%q has no end: %v", text, err)
		}
	}
}

func TestSpeed(t *testing.T) {
	for head, want := range map[string]float64{"speed_kmh": 50, "speed_mph": 80.4672, "speed_mph,speed_kmh": 60} {
		f, err := Open(head+"\n50,60\n", "")
		if err != nil {
			t.Fatal(err)
		}
		_, _ = f.Next()
		if v, given, err := f.Speed(); !given || err != nil || math.Abs(v-want) > 1e-9 {
			t.Errorf("%s: %g, %v, %v", head, v, given, err)
		}
	}
	f, _ := Open("rpm\n50\n", "")
	_, _ = f.Next()
	if _, given, err := f.Speed(); given || err != nil {
		t.Errorf("a file without speed has one: %v", err)
	}
	if f.First("a", "rpm", "b") != "rpm" || f.First("a") != "" || len(f.Names()) != 1 {
		t.Error("the columns aren't the head's")
	}
}

func TestWrong(t *testing.T) {
	if _, err := Open("", "seconds,rpm"); err == nil || !strings.Contains(err.Error(),
		"names the columns seconds,rpm") {
		t.Errorf("an empty file: %v", err)
	}
	for text, want := range map[string]string{"rpm\n1\nmany\n": `line 3: rpm: "many" is no number`,
		"rpm\nNaN\n":                 "line 2: rpm",
		"rpm\n1e999\n":               "line 2: rpm",
		"seconds,rpm\n1,2,\n1,2,5\n": "line 3: 3 figures under 2 columns", "rpm\n\"1\n": "line 2"} {
		f, err := Open(text, "")
		for more := true; err == nil && more; {
			if more, err = f.Next(); err == nil {
				_, _, err = f.Figure("rpm")
			}
		}
		if err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %s", text, err, want)
		}
	}
}

func ExampleOpen() {
	f, err := Open("seconds,speed_mph\n0,50\n", "seconds,speed_kmh")
	if err != nil {
		fmt.Println(err)
		return
	}
	for {
		more, err := f.Next()
		if err != nil || !more {
			break
		}
		kmh, _, _ := f.Speed()
		fmt.Printf("%s s: %.1f km/h\n", f.Cell("seconds"), kmh)
	}
	// Output: 0 s: 80.5 km/h
}
