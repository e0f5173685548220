package sight_test

import (
	"encoding/json"
	"fmt"
	"image"
	"image/draw"
	_ "image/jpeg"
	"math"
	"os"
	"slices"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/sight"
	"zorvel/core/sight/drawn"
)

// photo is one of the pictures in testdata, with what is on it.
type photo struct {
	File, Kind, Difficulty, Expect string
	Teeth                          int
	Tips                           [][2]float64
	Hidden                         []int
}

func photos(t *testing.T) (all []photo) {
	t.Helper()
	b, err := os.ReadFile("testdata/photos.json")
	if err != nil {
		t.Fatal(err)
	}
	if err := json.Unmarshal(b, &all); err != nil {
		t.Fatal(err)
	}
	return all
}

func gray(t testing.TB, file string) sight.Question {
	t.Helper()
	f, err := os.Open("testdata/" + file)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = f.Close() }()
	im, _, err := image.Decode(f)
	if err != nil {
		t.Fatal(err)
	}
	g := image.NewGray(image.Rect(0, 0, im.Bounds().Dx(), im.Bounds().Dy()))
	draw.Draw(g, g.Rect, im, im.Bounds().Min, draw.Src)
	return sight.Question{Gray: g.Pix, Width: g.Rect.Dx(), Height: g.Rect.Dy()}
}

// Of the photos whose number is known, most are counted, none is counted wrong and
// called sure, and nothing is stated of those on which nothing can be counted. Marks are
// on the teeth.
func TestPhotos(t *testing.T) {
	t.Parallel()
	right, countable := 0, 0
	for _, p := range photos(t) {
		a, err := sight.Work(gray(t, p.File))
		if err != nil {
			t.Fatal(p.File, err)
		}
		t.Logf("%s %s %s: %d, %s %d (%.2f) next %v %+v", p.File, p.Kind, p.Difficulty, p.Teeth, a.State, a.Teeth,
			a.Chance, a.Others, a.Why)
		if p.Expect != "count" {
			if a.State != sight.Cant || a.Chance > 0.3 || a.Blocked == "" || len(a.Advice) == 0 {
				t.Errorf("%s shows nothing that can be counted: %s %d (%.2f)", p.File, a.State, a.Teeth, a.Chance)
			}
			continue
		}
		countable++
		if a.Teeth == p.Teeth {
			right++
		} else if a.State == sight.Sure {
			t.Errorf("%s has %d teeth, not %d (%.2f)", p.File, p.Teeth, a.Teeth, a.Chance)
		}
		if a.Teeth == p.Teeth && a.State != sight.Cant {
			onTeeth(t, p, a)
		}
	}
	if right < countable-2 {
		t.Errorf("%d of %d counted right", right, countable)
	}
}

// onTeeth checks that the marks follow the teeth: each is nearest to a tooth of its own,
// and none is where the teeth are hidden.
func onTeeth(t *testing.T, p photo, a *sight.Answer) {
	t.Helper()
	used := map[int]int{}
	for _, m := range a.Marks {
		best, at := math.Inf(1), 0
		for i, tip := range p.Tips {
			if d := math.Hypot(tip[0]-m.X, tip[1]-m.Y); d < best {
				best, at = d, i
			}
		}
		used[at]++
	}
	if len(used) < len(a.Marks)*9/10 {
		t.Errorf("%s: %d marks are nearest to only %d teeth", p.File, len(a.Marks), len(used))
	}
	hidden := 0
	for _, h := range a.Hidden {
		hidden += h.Teeth
	}
	if len(a.Marks)+hidden != a.Teeth {
		t.Errorf("%s: %d marks and %d hidden are not %d", p.File, len(a.Marks), hidden, a.Teeth)
	}
}

func of(s drawn.Scene) sight.Question {
	p := drawn.Draw(s)
	return sight.Question{Gray: p.Gray, Width: p.Width, Height: p.Height}
}

// Every kind of gear, seen clearly, is counted, whatever its number.
func TestEveryKind(t *testing.T) {
	t.Parallel()
	right := 0
	for i, kind := range drawn.Kinds {
		s := drawn.Some(drawn.Easy, uint64(40+i))
		s.Kind, s.Tilt, s.Teeth, s.Width, s.Height = kind, 0.12, map[string]int{drawn.Pinion: 13,
			drawn.Sprocket: 19}[kind], 400, 320
		if s.Teeth == 0 {
			s.Teeth = 31 + 4*i
		}
		a, err := sight.Work(of(s))
		if err != nil {
			t.Fatal(err)
		}
		t.Logf("%s %d: %s %d (%.2f)", kind, s.Teeth, a.State, a.Teeth, a.Chance)
		if a.Teeth == s.Teeth {
			right++
		} else if a.Chance > 0.95 {
			t.Errorf("%s with %d teeth: %d, called %.2f", kind, s.Teeth, a.Teeth, a.Chance)
		}
	}
	if right < len(drawn.Kinds)-1 {
		t.Errorf("%d of %d kinds counted right", right, len(drawn.Kinds))
	}
}

// A hub, a disc with holes, an even wall and noise are no gears.
func TestNothingThere(t *testing.T) {
	t.Parallel()
	for i, kind := range []string{drawn.Flange, drawn.Disc} {
		s := drawn.Some(drawn.Easy, uint64(70+i))
		s.Kind, s.Teeth, s.Width, s.Height = kind, 0, 400, 320
		a, err := sight.Work(of(s))
		if err != nil {
			t.Fatal(err)
		}
		if a.State == sight.Sure || a.Chance > 0.6 {
			t.Errorf("%s: %s %d (%.2f)", kind, a.State, a.Teeth, a.Chance)
		}
	}
	flat := sight.Question{Gray: slices.Repeat([]uint8{120}, 200*160), Width: 200, Height: 160}
	a, err := sight.Work(flat)
	if err != nil || a.State != sight.Cant || a.Teeth != 0 || len(a.Advice) == 0 {
		t.Errorf("an even wall: %+v, %v", a, err)
	}
	if _, err := json.Marshal(a); err != nil {
		t.Error(err)
	}
}

// A cap over part of the rim: the teeth under it are counted by the spacing, and told.
func TestCap(t *testing.T) {
	t.Parallel()
	s := drawn.Some(drawn.Easy, 81)
	s.Kind, s.Teeth, s.Tilt, s.Cap, s.Cover, s.Width, s.Height = drawn.Sprocket, 30, 0.06, 0.9, 1, 480, 360
	a, err := sight.Work(of(s))
	if err != nil {
		t.Fatal(err)
	}
	if a.Teeth < 29 || a.Teeth > 31 {
		t.Fatalf("%d teeth of 30 (%.2f)", a.Teeth, a.Chance)
	}
	if a.State != sight.Cant && (len(a.Hidden) == 0 || a.Hidden[0].Teeth < 2 || a.Hidden[0].Teeth > 8) {
		t.Errorf("hidden: %+v of %d marks", a.Hidden, len(a.Marks))
	}
}

// A person who taps the middle of a gear is asking about that one.
func TestTapChooses(t *testing.T) {
	t.Parallel()
	side := func(teeth int, seed uint64) drawn.Photo {
		s := drawn.Some(drawn.Easy, seed)
		s.Kind, s.Teeth, s.Tilt, s.Right, s.Down, s.Size, s.Width, s.Height = drawn.Sprocket, teeth, 0.05, 0, 0, 0.75, 300, 300
		return drawn.Draw(s)
	}
	a, b := side(17, 5), side(23, 6)
	q := sight.Question{Width: 600, Height: 300}
	for y := range 300 {
		q.Gray = append(q.Gray, a.Gray[y*300:(y+1)*300]...)
		q.Gray = append(q.Gray, b.Gray[y*300:(y+1)*300]...)
	}
	for i, c := range []struct {
		tap  sight.Point
		want int
	}{{sight.Point{X: a.X, Y: a.Y}, 17}, {sight.Point{X: 300 + b.X, Y: b.Y}, 23}} {
		q.Tap = &c.tap
		if got, err := sight.Work(q); err != nil || got.Teeth != c.want {
			t.Errorf("tap %d: %+v, %v", i, got, err)
		}
	}
	q.Tap, q.Box = nil, &sight.Box{Left: 305, Top: 5, Right: 595, Bottom: 295}
	if got, err := sight.Work(q); err != nil || got.Teeth != 23 {
		t.Errorf("box: %+v, %v", got, err)
	}
}

func TestFaults(t *testing.T) {
	good := sight.Question{Gray: make([]uint8, 200*200), Width: 200, Height: 200}
	for _, c := range []struct {
		at   string
		with func(*sight.Question)
	}{
		{"image", func(q *sight.Question) { q.Width = 0 }},
		{"image", func(q *sight.Question) { q.Height = -1 }},
		{"image", func(q *sight.Question) { q.Width, q.Height = 1<<40, 1<<40 }},
		{"image", func(q *sight.Question) { q.Gray = q.Gray[1:] }},
		{"image", func(q *sight.Question) { q.Gray, q.Width, q.Height = make([]uint8, 100*100), 100, 100 }},
		{"tap", func(q *sight.Question) { q.Tap = &sight.Point{X: 201} }},
		{"tap", func(q *sight.Question) { q.Tap = &sight.Point{X: math.NaN()} }},
		{"box", func(q *sight.Question) { q.Box = &sight.Box{Right: 200, Bottom: math.Inf(1)} }},
		{"box", func(q *sight.Question) { q.Box = &sight.Box{Left: 10, Right: 20, Bottom: 100} }},
	} {
		q := good
		c.with(&q)
		_, err := sight.Work(q)
		if errs := fault.List(err); len(errs) != 1 || errs[0].Field != c.at {
			t.Errorf("%s: %v", c.at, err)
		}
	}
}

func ExampleWork() {
	s := drawn.Some(drawn.Easy, 3)
	s.Kind, s.Teeth, s.Tilt = drawn.Sprocket, 21, 0.1
	p := drawn.Draw(s)
	a, _ := sight.Work(sight.Question{Gray: p.Gray, Width: p.Width, Height: p.Height})
	fmt.Println(a.Sentence)
	fmt.Println(len(a.Marks), "marks")
	// Output:
	// 21 teeth.
	// 21 marks
}

func BenchmarkWork(b *testing.B) {
	q := gray(b, "s10.jpg")
	for b.Loop() {
		if _, err := sight.Work(q); err != nil {
			b.Fatal(err)
		}
	}
}
