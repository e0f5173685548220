package marks

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
)

// gear is a gear of so many teeth, seen through a camera at a distance (in radii) and
// turned away by tilt, its marks tapped with an error that is a part of the spacing.
func gear(r *rand.Rand, teeth int, tilt, distance, noise float64, skip map[int]bool) []Point {
	turn, phase := 2*math.Pi*r.Float64(), r.Float64()
	sin, cos := math.Sincos(tilt)
	var out []Point
	for i := range teeth {
		if skip[i] {
			continue
		}
		a := 2 * math.Pi * (float64(i) + phase + noise*r.NormFloat64()) / float64(teeth)
		radius := 1 + noise*r.NormFloat64()*2*math.Pi/float64(teeth)
		x, y := radius*math.Cos(a), radius*math.Sin(a)
		depth := distance + y*sin
		px, py := x*distance/depth, y*cos*distance/depth
		s, c := math.Sincos(turn)
		out = append(out, Point{1200 + 700*(px*c-py*s), 900 + 700*(px*s+py*c)})
	}
	r.Shuffle(len(out), func(i, j int) { out[i], out[j] = out[j], out[i] })
	return out
}

func count(t *testing.T, pts []Point) *Answer {
	t.Helper()
	a, err := Work(Question{pts})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := json.Marshal(a); err != nil {
		t.Fatal(err)
	}
	return a
}

// An exact ellipse is found as it is, wherever it lies.
func TestEllipse(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 15))
	for range 200 {
		want := Ellipse{X: 3000 * r.Float64(), Y: 2000 * r.Float64(), A: 200 + 800*r.Float64(), Turn: math.Pi * (r.Float64() - 0.5)}
		want.B = want.A * (0.3 + 0.65*r.Float64())
		var pts []Point
		for i := range 12 {
			s, c := math.Sincos(float64(i)*0.5 + r.Float64()*0.2)
			ts, tc := math.Sincos(want.Turn)
			pts = append(pts, Point{want.X + want.A*c*tc - want.B*s*ts, want.Y + want.A*c*ts + want.B*s*tc})
		}
		got, err := fit(pts)
		if err != nil {
			t.Fatal(err)
		}
		turn := math.Abs(math.Remainder(got.Turn-want.Turn, math.Pi))
		if math.Abs(got.X-want.X) > 0.1 || math.Abs(got.Y-want.Y) > 0.1 || math.Abs(got.A-want.A) > 0.1 || math.Abs(got.B-want.B) > 0.1 || turn > 0.001 {
			t.Errorf("%+v, is %+v", got, want)
		}
	}
	for name, pts := range map[string][]Point{
		"one place": {{1, 1}, {1, 1}, {1, 1}, {1, 1}, {1, 1}, {1, 1}},
		"a line":    {{0, 0}, {1, 1}, {2, 2}, {3, 3}, {4, 4}, {5, 5}},
	} {
		if _, err := Work(Question{pts}); err == nil {
			t.Errorf("%s is a gear", name)
		}
	}
}

// Whole gears, from the front and from the side, tapped as people tap: counted
// right, and nothing is pointed at that is well.
func TestWholeGears(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 15))
	right, even, n := 0, 0, 400
	for range n {
		teeth := 9 + r.IntN(50)
		a := count(t, gear(r, teeth, r.Float64()*50*math.Pi/180, 4+6*r.Float64(), 0.06, nil))
		if a.Count == teeth {
			right++
		}
		if a.Even {
			even++
		}
		if a.Even && a.Count != a.Marked {
			t.Errorf("even, and %d of %d", a.Count, a.Marked)
		}
	}
	t.Logf("right %d, even %d of %d", right, even, n)
	if right < n*98/100 || even < n*95/100 {
		t.Errorf("right %d, even %d of %d", right, even, n)
	}
}

// A tooth that was skipped, or tapped twice, is pointed at, where it is.
func TestSkippedAndDoubled(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 15))
	n, skipped, doubled := 300, 0, 0
	for range n {
		teeth := 12 + r.IntN(40)
		tilt, distance := r.Float64()*45*math.Pi/180, 4+6*r.Float64()
		a := count(t, gear(r, teeth, tilt, distance, 0.06, map[int]bool{r.IntN(teeth): true}))
		if a.Count == teeth && len(a.Looks) == 1 && a.Looks[0].Kind == Skipped && a.Looks[0].Teeth == 1 && !a.Even {
			skipped++
		}
		pts := gear(r, teeth, tilt, distance, 0.06, nil)
		twice := pts[r.IntN(len(pts))]
		step := 2 * math.Pi * 700 / float64(teeth)
		pts = append(pts, Point{twice.X + 0.1*step*r.NormFloat64(), twice.Y + 0.1*step*r.NormFloat64()})
		b := count(t, pts)
		if b.Count == teeth && b.Marked == teeth+1 && !b.Even {
			doubled++
		}
	}
	t.Logf("skipped %d, doubled %d of %d", skipped, doubled, n)
	if skipped < n*95/100 || doubled < n*95/100 {
		t.Errorf("skipped %d, doubled %d of %d", skipped, doubled, n)
	}
}

// Where a part is out of sight, it is said, and the count is only as sure as the
// spacing reaches.
func TestHidden(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 15))
	hide := map[int]bool{}
	for i := range 9 {
		hide[i] = true
	}
	near, n := 0, 200
	for range n {
		a := count(t, gear(r, 41, r.Float64()*0.5, 8, 0.05, hide))
		if a.Even || len(a.Looks) == 0 || a.Looks[len(a.Looks)-1].Kind != Hidden && a.Looks[0].Kind != Hidden {
			t.Errorf("%s %+v", a.Sentence, a.Looks)
		}
		if a.Chance > 0.995 {
			t.Errorf("nine teeth out of sight, and %v sure", a.Chance)
		}
		if math.Abs(float64(a.Count-41)) <= 1 {
			near++
		}
	}
	if near < n*90/100 {
		t.Errorf("within one tooth %d of %d", near, n)
	}
}

// How sure it is called is how often it is right.
func TestChanceHolds(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 15))
	sum, right, tried, n := 0.0, 0, 0, 600
	for range n {
		teeth := 10 + r.IntN(45)
		skip := map[int]bool{}
		for range r.IntN(5) {
			skip[r.IntN(teeth)] = true
		}
		a, err := Work(Question{gear(r, teeth, r.Float64()*45*math.Pi/180, 4+6*r.Float64(), 0.03+0.09*r.Float64(), skip)})
		if err != nil { // too few neighbors are left
			continue
		}
		tried++
		sum += a.Chance
		if a.Count == teeth {
			right++
		}
	}
	said, was := sum/float64(tried), float64(right)/float64(tried)
	t.Logf("said %.3f, right %.3f of %d", said, was, tried)
	if tried < 500 || math.Abs(said-was) > 0.05 {
		t.Errorf("said %.3f, right %.3f", said, was)
	}
}

func TestRefusesMarks(t *testing.T) {
	good := gear(rand.New(rand.NewPCG(6, 15)), 12, 0, 9, 0, nil)
	for field, pts := range map[string][]Point{
		"points":   good[:5],
		"points/3": append(append([]Point{}, good[:3]...), Point{math.NaN(), 1}, good[4], good[5], good[6]),
		"from 6":   make([]Point, MostMarks+1),
	} {
		if _, err := Work(Question{pts}); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", field, err)
		}
	}
	// A mark beside the circle is named, and no number is made up of it.
	off := append([]Point{}, good...)
	off[4] = Point{1200, 900}
	if a, err := Work(Question{off}); err == nil && a.Even {
		t.Errorf("a mark in the middle: %s", a.Sentence)
	}
}

// FuzzWork: whatever is tapped, it answers or refuses.
func FuzzWork(f *testing.F) {
	f.Add(uint64(1), 12, 0.5)
	f.Fuzz(func(t *testing.T, seed uint64, n int, spread float64) {
		if n < 0 || n > 450 {
			return
		}
		r := rand.New(rand.NewPCG(seed, 1))
		var pts []Point
		for range n {
			pts = append(pts, Point{spread * r.NormFloat64(), spread * r.NormFloat64()})
		}
		a, err := Work(Question{pts})
		if err != nil {
			return
		}
		if _, err := json.Marshal(a); err != nil || a.Count < 0 || a.Count > 100000 || len(a.Order) != n {
			t.Errorf("%+v %v", a, err)
		}
	})
}

func ExampleWork() {
	var pts []Point
	for i := range 24 {
		if i == 5 { // skipped
			continue
		}
		s, c := math.Sincos(2 * math.Pi * float64(i) / 24)
		pts = append(pts, Point{500 + 300*c, 400 + 180*s})
	}
	a, err := Work(Question{pts})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Println(a.Sentence)
	fmt.Println(a.Looks[0].Words)
	// Output:
	// 23 marks, but the spacing says 24 teeth: look where it points.
	// between marks 5 and 6 there is room for one tooth: skipped?
}

func BenchmarkWork(b *testing.B) {
	q := Question{gear(rand.New(rand.NewPCG(7, 15)), 60, 0.5, 6, 0.05, nil)}
	for b.Loop() {
		if _, err := Work(q); err != nil {
			b.Fatal(err)
		}
	}
}

// However the picture is turned, mirrored, scaled or moved, and in whatever order
// teeth are tapped, the count and what is pointed at are the same.
func TestSeenOtherwise(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 15))
	for range 60 {
		teeth := 12 + r.IntN(40)
		pts := gear(r, teeth, r.Float64()*0.7, 6, 0.05, map[int]bool{r.IntN(teeth): true})
		was := count(t, pts)
		turn, scale := 2*math.Pi*r.Float64(), 0.2+2*r.Float64()
		sin, cos := math.Sincos(turn)
		for name, see := range map[string]func(Point) Point{
			"turned":   func(p Point) Point { return Point{p.X*cos - p.Y*sin, p.X*sin + p.Y*cos} },
			"mirrored": func(p Point) Point { return Point{-p.X, p.Y} },
			"scaled":   func(p Point) Point { return Point{scale * p.X, scale * p.Y} },
			"moved":    func(p Point) Point { return Point{p.X + 4000, p.Y - 3000} },
		} {
			other := make([]Point, len(pts))
			for i, p := range pts {
				other[i] = see(p)
			}
			a := count(t, other)
			if a.Count != was.Count || len(a.Looks) != len(was.Looks) || math.Abs(a.Degrees-was.Degrees) > 0.02 {
				t.Errorf("%s: %d with %d looks, not %d with %d", name, a.Count, len(a.Looks), was.Count, len(was.Looks))
			}
		}
		shuffled := append([]Point{}, pts...)
		r.Shuffle(len(shuffled), func(i, j int) { shuffled[i], shuffled[j] = shuffled[j], shuffled[i] })
		if a := count(t, shuffled); a.Count != was.Count || len(a.Looks) != len(was.Looks) {
			t.Errorf("in another order: %d, not %d", a.Count, was.Count)
		}
	}
}

// The order around the gear is a walk from neighbor to neighbor, and what is pointed
// at lies between the marks that it names.
func TestOrderAndPlace(t *testing.T) {
	var pts []Point
	for i := range 30 {
		if i == 11 {
			continue
		}
		s, c := math.Sincos(2 * math.Pi * float64(i) / 30)
		pts = append(pts, Point{800 + 400*c, 600 + 400*s})
	}
	a := count(t, pts)
	for k, i := range a.Order {
		j := a.Order[(k+1)%len(a.Order)]
		if d := math.Hypot(pts[i].X-pts[j].X, pts[i].Y-pts[j].Y); d > 2.2*2*400*math.Sin(math.Pi/30) {
			t.Errorf("from mark %d to %d it is %v", i+1, j+1, d)
		}
	}
	s, c := math.Sincos(2 * math.Pi * 11 / 30)
	at := a.Looks[0].Point
	if len(a.Looks) != 1 || math.Hypot(at.X-800-400*c, at.Y-600-400*s) > 4 {
		t.Errorf("it points at %+v, the tooth is at %v, %v", a.Looks, 800+400*c, 600+400*s)
	}
	if a.Tilt != 0 || math.Abs(a.Ellipse.A-400) > 0.5 || math.Abs(a.Ellipse.B-400) > 0.5 {
		t.Errorf("%+v, %v from the side", a.Ellipse, a.Tilt)
	}
}

// A gear seen very much from the side is counted, and said to be.
func TestFromTheSide(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 15))
	a := count(t, gear(r, 24, 65*math.Pi/180, 30, 0.02, nil))
	if a.Count != 24 || a.Tilt < 60 || !strings.Contains(a.Sentence, "from the side") {
		t.Errorf("%d, %v°: %s", a.Count, a.Tilt, a.Sentence)
	}
}
