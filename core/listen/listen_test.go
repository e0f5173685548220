package listen_test

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"strings"
	"sync"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/listen"
	"zorvel/core/listen/drives"
)

// sounds are the recordings in testdata, with what is on them.
type sounds []struct {
	File, Speed, RPM, Expect, Kind string
	Ring, Pinion                   int
	Level                          float64
	Vehicle                        listen.Vehicle
}

func file(t testing.TB, name string) []byte {
	t.Helper()
	b, err := os.ReadFile("testdata/" + name)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func recordings(t testing.TB) (list sounds) {
	t.Helper()
	if err := json.Unmarshal(file(t, "sounds.json"), &list); err != nil {
		t.Fatal(err)
	}
	return list
}

// asked is one of them as a question.
func asked(t testing.TB, list sounds, i int) listen.Question {
	t.Helper()
	c := list[i]
	b := file(t, c.File)[44:]
	q := listen.Question{Rate: 8000, Vehicle: c.Vehicle, Samples: make([]float64, len(b)/2)}
	for i := range q.Samples {
		q.Samples[i] = float64(int16(binary.LittleEndian.Uint16(b[2*i:]))) / (1 << 15)
	}
	var err error
	if q.Speed, _, err = listen.ReadCSV(string(file(t, c.Speed))); err != nil {
		t.Fatal(err)
	}
	if c.RPM != "" {
		if _, q.RPM, err = listen.ReadCSV(string(file(t, c.RPM))); err != nil {
			t.Fatal(err)
		}
	}
	return q
}

// Every recording of which the source is known is named, teeth that were not told
// included, with a level that is right within three decibels; the one without a tone is not.
func TestRecordings(t *testing.T) {
	list := recordings(t)
	for i, c := range list {
		a, err := listen.Work(asked(t, list, i))
		if err != nil {
			t.Fatal(c.File, err)
		}
		if c.Expect != "tell" {
			if a.State != listen.Cannot || a.Reason != listen.NoTone || len(a.Next) == 0 {
				t.Errorf("%s: %s %s", c.File, a.State, a.Sentence)
			}
			continue
		}
		if a.State != listen.Told || a.Sources[0].Kind != c.Kind || a.Sources[0].Chance < 0.8 {
			t.Errorf("%s: %s %+v", c.File, a.Sentence, a.Sources)
			continue
		}
		top := a.Sources[0]
		if c.Kind == listen.RingAndPinion && (top.Ring != c.Ring || top.Pinion != c.Pinion) {
			t.Errorf("%s: %d:%d is %s", c.File, c.Ring, c.Pinion, top.Name)
		}
		if math.Abs(top.Level-c.Level) > 4.5 {
			t.Errorf("%s: %g dB, not %g", c.File, top.Level, c.Level)
		}
		if len(a.Map.Rows) < 10 || len(a.Map.Seconds) != len(a.Map.Rows) || a.Map.Top <= 0 {
			t.Errorf("%s: a map of %d rows", c.File, len(a.Map.Rows))
		}
		if _, err := json.Marshal(a); err != nil {
			t.Error(c.File, err)
		}
	}
}

// Of drives by chance nine in ten that can be told are named right, what is called nine
// in ten sure is right as often, and of those without a howl, at one speed, or with two
// sources alike most are said to be so.
func TestDrives(t *testing.T) {
	t.Parallel()
	const drivesMade = 120
	var mu sync.Mutex
	var tellable, right, sure, wrong, not, said int
	var wg sync.WaitGroup
	jobs := make(chan uint64)
	for range 2 {
		wg.Go(func() {
			for seed := range jobs {
				d := drives.Some(seed)
				a, err := listen.Work(d.Question)
				mu.Lock()
				if err != nil {
					t.Error(seed, err)
				} else {
					ok := d.Right(a)
					if d.Tellable {
						tellable++
						if ok {
							right++
						}
					} else {
						not++
						if a.State == listen.Cannot {
							said++
						}
					}
					if a.State == listen.Told && a.Sources[0].Chance >= 0.9 {
						sure++
						if !ok {
							wrong++
						}
					}
				}
				mu.Unlock()
			}
		})
	}
	for seed := range uint64(drivesMade) {
		jobs <- 7000 + seed
	}
	close(jobs)
	wg.Wait()
	t.Logf("%d of %d named right; %d of %d said not to be tellable; %d of %d called sure are wrong", right, tellable,
		said, not, wrong, sure)
	if right*100 < tellable*90 || wrong*10 > sure || said*100 < not*65 {
		t.Error("too few")
	}
}

// Fast, slow, loud, quiet: the answer is the same whatever the recorder's gain.
func TestGainDoesNotMatter(t *testing.T) {
	list := recordings(t)
	q := asked(t, list, 0)
	a, err := listen.Work(q)
	if err != nil {
		t.Fatal(err)
	}
	for i := range q.Samples {
		q.Samples[i] *= 0.02
	}
	b, err := listen.Work(q)
	if err != nil || b.Sources[0].Name != a.Sources[0].Name || math.Abs(b.Sources[0].Level-a.Sources[0].Level) > 0.2 {
		t.Errorf("%+v, %v", b.Sources, err)
	}
}

// A recorder that writes 48,000 samples a second tells the same.
func TestRateDoesNotMatter(t *testing.T) {
	q := asked(t, recordings(t), 0)
	fine := q
	fine.Samples, fine.Rate = nil, 48_000
	for i := range q.Samples[:len(q.Samples)-1] {
		for k := range 6 {
			f := float64(k) / 6
			fine.Samples = append(fine.Samples, q.Samples[i]*(1-f)+q.Samples[i+1]*f)
		}
	}
	a, err := listen.Work(fine)
	if err != nil || a.State != listen.Told || a.Sources[0].Kind != listen.RingAndPinion {
		t.Errorf("%s, %v", a.Sentence, err)
	}
}

// At one speed nothing is named as certain, and the coast that would tell is said.
// A planetary low range makes the ring's teeth per turn of its output, and its ratio is
// 1 + ring/sun.
func TestPlanetary(t *testing.T) {
	v := listen.Vehicle{Circumference: 2.2, Axle: &listen.Pair{Drive: 10, Driven: 41}, GearRatio: 1, Cylinders: 4,
		CasePlanet: &listen.Pair{Drive: 30, Driven: 60}}
	for _, s := range listen.Sources(v) {
		switch s.Kind {
		case listen.CaseMesh:
			if math.Abs(s.PerWheel-60*4.1) > 1e-9 || math.Abs(s.PerShaft-60) > 1e-9 || math.Abs(s.PerEngine-20) > 1e-9 {
				t.Errorf("%+v", s)
			}
		case listen.Engine:
			if math.Abs(s.PerWheel-2*3*4.1) > 1e-9 {
				t.Errorf("%+v", s)
			}
		}
	}
	q := listen.Question{Samples: make([]float64, 40000), Rate: 8000, Constant: 40, Vehicle: v}
	q.Vehicle.CaseRatio = 2.5
	if _, err := listen.Work(q); err == nil {
		t.Error("a ratio that isn't the planetary's is taken")
	}
	q.Vehicle.CaseRatio, q.Vehicle.CasePlanet = 0, &listen.Pair{Drive: 60, Driven: 30}
	if _, err := listen.Work(q); err == nil {
		t.Error("a ring smaller than its sun is taken")
	}
}

func TestOneSpeed(t *testing.T) {
	q := listen.Question{Rate: 8000, Constant: 80, Vehicle: listen.Vehicle{Circumference: 2.2,
		Axle: &listen.Pair{Drive: 10, Driven: 41}}}
	r := rand.New(rand.NewPCG(5, 6))
	for i := range 8000 * 12 {
		q.Samples = append(q.Samples, 0.2*math.Sin(2*math.Pi*41*80/3.6/2.2*float64(i)/8000)+0.05*r.NormFloat64())
	}
	a, err := listen.Work(q)
	if err != nil || a.State != listen.Cannot || a.Reason != listen.OneSpeed || !strings.Contains(strings.Join(a.Next,
		" "), "Coast from 60 to 30") {
		t.Errorf("%s %s, %v", a.Sentence, a.Next, err)
	}
}

// A ring and pinion that sings only while the speed rises is heard on drive.
func TestDriveAndCoast(t *testing.T) {
	for _, c := range []struct {
		on     string
		rising float64
	}{{listen.OnDrive, 1}, {listen.OnCoast, -1}} {
		q := tone(func(slope float64) float64 {
			if slope*c.rising > 0 {
				return 1
			}
			return 0.05
		}, 41)
		a, err := listen.Work(q)
		if err != nil || a.State != listen.Told || a.Load == nil || a.Load.On != c.on {
			t.Errorf("%s: %+v, %v", c.on, a.Load, err)
			continue
		}
		if len(a.Signs) != 1 || a.Signs[0] != "whine_"+c.on {
			t.Errorf("%s: signs %v", c.on, a.Signs)
		}
	}
	a, err := listen.Work(tone(func(float64) float64 { return 1 }, 41))
	if err != nil || a.Load == nil || a.Load.On != listen.OnBoth {
		t.Errorf("both: %+v, %v", a.Load, err)
	}
}

// tone is a drive up and down with one line, by how loud it is at a slope.
func tone(loud func(slope float64) float64, ring float64) listen.Question {
	const rate, seconds = 8000, 24
	r := rand.New(rand.NewPCG(1, 2))
	q := listen.Question{Rate: rate, Vehicle: listen.Vehicle{Circumference: 2.2, Axle: &listen.Pair{Drive: 10,
		Driven: 41}}}
	turns := 0.0
	speed := func(t float64) float64 { return 70 - 15*math.Cos(2*math.Pi*t/12) }
	for i := range rate * seconds {
		t := float64(i) / rate
		turns += speed(t) / 3.6 / 2.2 / rate
		slope := speed(t+0.1) - speed(t)
		q.Samples = append(q.Samples, 0.1*loud(slope)*math.Sin(2*math.Pi*ring*turns)+0.05*r.NormFloat64())
	}
	for t := range seconds + 1 {
		q.Speed = append(q.Speed, listen.Reading{Seconds: float64(t), Value: speed(float64(t))})
	}
	return q
}

func TestFaults(t *testing.T) {
	good := tone(func(float64) float64 { return 1 }, 41)
	for _, c := range []struct {
		at   string
		with func(*listen.Question)
	}{
		{"sound", func(q *listen.Question) { q.Rate = 100 }},
		{"sound", func(q *listen.Question) { q.Rate = math.NaN() }},
		{"sound", func(q *listen.Question) { q.Samples = q.Samples[:8000] }},
		{"sound", func(q *listen.Question) { q.Rate, q.Samples = 2000, make([]float64, 2000*181) }},
		{"speed", func(q *listen.Question) { q.Speed = nil }},
		{"speed", func(q *listen.Question) {
			q.Speed = []listen.Reading{{Seconds: 1, Value: 5}, {Seconds: 0,
				Value: 5}}
		}},
		{"speed", func(q *listen.Question) {
			q.Speed = []listen.Reading{{Seconds: 0, Value: 5}, {Seconds: 1, Value: math.Inf(1)}}
		}},
		{"rpm", func(q *listen.Question) { q.RPM = []listen.Reading{{Seconds: 0, Value: -1}} }},
		{"vehicle/rolling_m", func(q *listen.Question) { q.Vehicle.Circumference = 0 }},
		{"vehicle/axle", func(q *listen.Question) { q.Vehicle.Axle = &listen.Pair{Drive: 0, Driven: 41} }},
		{"vehicle/axle_ratio", func(q *listen.Question) { q.Vehicle.AxleRatio = -3 }},
		{"vehicle/gear_pairs", func(q *listen.Question) { q.Vehicle.GearPairs = []listen.Pair{{Drive: 1, Driven: 1}} }},
		{"vehicle/bearings", func(q *listen.Question) { q.Vehicle.Bearings = []listen.Bearing{{Outer: math.NaN()}} }},
	} {
		q := good
		c.with(&q)
		_, err := listen.Work(q)
		if errs := fault.List(err); len(errs) == 0 || errs[0].Field != c.at {
			t.Errorf("%s: %v", c.at, err)
		}
	}
}

// Whatever the vehicle and the speed, there is an answer that marshals.
func TestAnythingAnswers(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 30 {
		q := listen.Question{Rate: 2000 + 6000*r.Float64(), Vehicle: listen.Vehicle{Circumference: 0.3 + 7*r.Float64()}}
		q.Samples = make([]float64, int(q.Rate*(3+3*r.Float64())))
		if r.IntN(2) == 0 {
			for i := range q.Samples {
				q.Samples[i] = r.NormFloat64()
			}
		}
		q.Constant = 5 + 395*r.Float64()
		q.Vehicle.AxleRatio, q.Vehicle.GearRatio = 0.5+19*r.Float64(), 0.2+50*r.Float64()
		q.Vehicle.Cylinders, q.Vehicle.Pitches = r.IntN(17), r.IntN(200)
		a, err := listen.Work(q)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := json.Marshal(a); err != nil || a.Sentence == "" {
			t.Errorf("%+v: %v", q.Vehicle, err)
		}
	}
}

func TestReadCSV(t *testing.T) {
	speed, rpm, err := listen.ReadCSV("\ufeffTime_s, speed_mph ,RPM,other\n0,10,900,x\n1,,950\n2,20,,y\n")
	if err != nil || len(speed) != 2 || len(rpm) != 2 || math.Abs(speed[1].Value-32.18688) > 1e-9 ||
		rpm[1].Seconds != 1 {
		t.Errorf("%v %v %v", speed, rpm, err)
	}
	for text, want := range map[string]string{"": "empty", "a,b\n1,2": "line 1", "seconds,rpm\n1,many": "line 2",
		"seconds\n1": "line 1"} {
		if _, _, err := listen.ReadCSV(text); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v", text, err)
		}
	}
}

func ExampleWork() {
	d := drives.Some(1)
	a, err := listen.Work(d.Question)
	if err != nil {
		panic(err)
	}
	fmt.Println(a.Sentence)
	fmt.Println(d.Name)
	// Output:
	// Loudest: ring and pinion, 52:12.
	// ring and pinion, 52:12
}

func BenchmarkMinute(b *testing.B) {
	list := recordings(b)
	q := asked(b, list, 1)
	for len(q.Samples) < 60*8000 {
		q.Samples = append(q.Samples, q.Samples...)
	}
	q.Samples = q.Samples[:60*8000]
	for b.Loop() {
		if _, err := listen.Work(q); err != nil {
			b.Fatal(err)
		}
	}
}
