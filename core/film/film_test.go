package film

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"zorvel/core/fault"
	"zorvel/core/live"
)

// pictures are the JPEG pictures of a film that is a chain of them, as gray values.
func pictures(t *testing.T, file string) []Picture {
	t.Helper()
	data, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	var out []Picture
	for {
		end := bytes.Index(data, []byte{0xff, 0xd9})
		if end < 0 {
			return out
		}
		img, err := jpeg.Decode(bytes.NewReader(data[:end+2]))
		if err != nil {
			t.Fatal(err)
		}
		data = data[end+2:]
		y := img.(*image.YCbCr)
		p := Picture{Width: y.Rect.Dx(), Height: y.Rect.Dy()}
		for r := range p.Height {
			p.Gray = append(p.Gray, y.Y[r*y.YStride:r*y.YStride+p.Width]...)
		}
		out = append(out, p)
	}
}

func watched(t *testing.T, list []Picture, rate float64, watch ...Watch) *Film {
	t.Helper()
	f, err := New(list[0].Width, list[0].Height, watch)
	if err != nil {
		t.Fatal(err)
	}
	for i, p := range list {
		if err := f.See(p, float64(i)/rate); err != nil {
			t.Fatal(err)
		}
	}
	return f
}

// Two films whose truth is known: a hub and a flange turned on and back by hand, in
// flickering light with a shadow; and one that is too fast for its camera.
func TestKnownFilms(t *testing.T) {
	f := watched(t, pictures(t, "testdata/vs2.mjpeg"), 20,
		Watch{live.Left, Box{8, 19, 83, 83}, 1}, Watch{live.Input, Box{98, 34, 49, 49}, 1})
	for i, want := range []struct{ net, total float64 }{{1.7, 2.5}, {8.1222, 11.9444}} {
		d := f.Discs()[i]
		if d.State != Followed || math.Abs(d.Turns-want.net) > 0.03 || math.Abs(d.Total-want.total) > 0.08 {
			t.Errorf("%+v, want %+v", d, want)
		}
	}
	rec := f.Recording()
	rec.Other = &live.Other{Does: live.With, Seen: true}
	a, err := live.Weigh(rec)
	if err != nil || a.Ratio == nil || a.Ratio.Low > 43.0/9 || a.Ratio.High < 43.0/9 {
		t.Errorf("%+v, %v", a, err)
	}
	f = watched(t, pictures(t, "testdata/vs3.mjpeg"), 15,
		Watch{live.Left, Box{6, 19, 85, 85}, 1}, Watch{live.Input, Box{101, 41, 47, 47}, 1})
	if d := f.Discs(); d[0].State != Followed || math.Abs(d[0].Turns-8.2) > 0.03 || d[1].State != TooFast ||
		d[1].Turns != 0 {
		t.Errorf("%+v", d)
	}
	if n := len(f.Recording().Sources); n != 1 {
		t.Errorf("%d discs are counted of a film that is too fast for one", n)
	}
}

// scene draws a disc with chalk marks and bolts, lit from one side.
type scene struct {
	size, marks    int
	flicker, noise float64
	shine          bool
}

func (s scene) draw(rng *rand.Rand, turns, blur float64, hand bool) Picture {
	p := Picture{Width: s.size, Height: s.size, Gray: make([]uint8, s.size*s.size)}
	c := float64(s.size) / 2
	lamp := 1 + s.flicker*rng.NormFloat64()
	for y := range s.size {
		for x := range s.size {
			dx, dy := float64(x)+0.5-c, float64(y)+0.5-c
			r := math.Hypot(dx, dy) / (c * 0.92)
			a := math.Atan2(dx, -dy) / (2 * math.Pi)
			v := 90 + 10*math.Sin(40*r)
			if r < 1 {
				v = 130 + 25*math.Sin(2*math.Pi*a+1)
				if s.shine && math.Abs(math.Remainder(a-0.85, 1)) < 0.05 {
					v += 60
				}
				near := math.Abs(math.Remainder((a-turns)*float64(s.marks), 1)) / float64(s.marks)
				if r > 0.55 && near < 0.018+blur/2 {
					v += 110 * min(1, 0.036/(0.036+blur))
				}
				if b := math.Abs(math.Remainder((a-turns)*6+0.5, 1)) / 6; r > 0.38 && r < 0.5 && b < 0.03 {
					v += 50
				}
			}
			if hand && dy > 0 && dx > -c*0.3 && dx < c*0.7 {
				v = 70
			}
			p.Gray[y*s.size+x] = uint8(min(max(v*lamp+s.noise*rng.NormFloat64(), 0), 255))
		}
	}
	return p
}

// A disc that is turned on, back and on again, whatever the number of marks, the light and
// the noise: net and total turns are counted, and a hand that passes is followed across.
func TestDrawnDiscs(t *testing.T) {
	for seed := range uint64(16) {
		rng := rand.New(rand.NewPCG(seed, 1))
		s := scene{size: 60 + rng.IntN(60), marks: 1 + rng.IntN(4), flicker: 0.06 * rng.Float64(),
			noise: 6 * rng.Float64(), shine: seed%2 == 0}
		most := 0.2 * rng.Float64() / float64(s.marks)
		turns, net, total, speed := rng.Float64(), 0.0, 0.0, 0.0
		var list []Picture
		for i := range 200 {
			aim := most
			if i > 110 && i < 150 {
				aim = -most
			}
			if i < 8 || i > 190 {
				aim = 0
			}
			speed += (aim - speed) * 0.15
			list = append(list, s.draw(rng, turns, math.Abs(speed)*0.4, seed%3 == 0 && i > 60 && i < 64))
			if i < 199 {
				turns, net, total = turns+speed, net+speed, total+math.Abs(speed)
			}
		}
		d := watched(t, list, 30, Watch{live.Left, Box{0.04 * float64(s.size), 0.04 * float64(s.size),
			0.92 * float64(s.size), 0.92 * float64(s.size)}, s.marks}).Discs()[0]
		if d.State != Followed || math.Abs(d.Turns-net) > 0.03 || math.Abs(d.Total-total) > 0.1 {
			t.Errorf("%d: %+v of %d marks at up to %.2f a picture: %+v, want %.3f and %.3f", seed, s, s.marks, most,
				d, net, total)
		}
	}
}

// Beyond about half the way to the next mark from picture to picture nothing is counted.
func TestTooFast(t *testing.T) {
	for _, marks := range []int{1, 2, 4} {
		for _, most := range []float64{0.45, 0.5, 0.7, 1.0, 1.3} {
			rng := rand.New(rand.NewPCG(uint64(marks), 2))
			s := scene{size: 80, marks: marks, noise: 2}
			turns, speed := 0.0, 0.0
			var list []Picture
			for i := range 90 {
				if i > 5 {
					speed += (most/float64(marks) - speed) * 0.1
				}
				list = append(list, s.draw(rng, turns, speed*0.5, false))
				turns += speed
			}
			d := watched(t, list, 15, Watch{live.Left, Box{3, 3, 74, 74}, marks}).Discs()[0]
			if d.Turns != 0 || d.State == Followed || d.State != TooFast && most < 0.9 {
				t.Errorf("%d marks at %.2f of their distance a picture: %+v", marks, most, d)
			}
		}
	}
}

// A disc without chalk, one that stands, and one whose mark is wiped off while it turns.
func TestNothingToFollow(t *testing.T) {
	rng := rand.New(rand.NewPCG(4, 4))
	blank := make([]Picture, 20)
	for i := range blank {
		blank[i] = Picture{Width: 60, Height: 60, Gray: make([]uint8, 3600)}
		for k := range blank[i].Gray {
			blank[i].Gray[k] = uint8(120 + rng.IntN(3))
		}
	}
	box := Box{2, 2, 56, 56}
	if d := watched(t, blank, 30, Watch{live.Left, box, 1}).Discs()[0]; d.State == Followed && math.Abs(d.Turns) > 0.2 {
		t.Errorf("a blank disc: %+v", d)
	}
	s := scene{size: 60, marks: 1, noise: 3}
	var still, wiped []Picture
	for i := range 60 {
		still = append(still, s.draw(rng, 0.3, 0, false))
		turns := 0.05 * float64(i)
		if i < 30 {
			wiped = append(wiped, s.draw(rng, turns, 0, false))
		} else {
			wiped = append(wiped, scene{size: 60, marks: 1, noise: 3}.draw(rng, 0.5, 5, false))
		}
	}
	if d := watched(t, still, 30, Watch{live.Input, box, 1}).Discs()[0]; d.State != Followed ||
		math.Abs(d.Turns) > 0.01 || d.Total > 0.01 {
		t.Errorf("one that stands: %+v", d)
	}
	if d := watched(t, wiped, 30, Watch{live.Input, box, 1}).Discs()[0]; d.State == Followed {
		t.Errorf("its mark is gone: %+v", d)
	}
}

func TestRefused(t *testing.T) {
	good := Watch{live.Left, Box{0, 0, 40, 40}, 1}
	for field, c := range map[string]struct {
		side  int
		watch []Watch
	}{
		"width":         {5, []Watch{good}},
		"watch":         {100, nil},
		"watch/0/marks": {100, []Watch{{live.Left, good.Box, 0}}},
		"watch/0/box":   {100, []Watch{{live.Left, Box{0, 0, math.NaN(), 40}, 1}}},
		"watch/0/shaft": {100, []Watch{{"front", good.Box, 1}}},
		"watch/1/shaft": {100, []Watch{good, good}},
	} {
		_, err := New(c.side, 100, c.watch)
		var odd fault.Errors
		if !errors.As(err, &odd) || odd[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	f, err := New(50, 50, []Watch{good})
	if err != nil {
		t.Fatal(err)
	}
	whole := Picture{50, 50, make([]uint8, 2500)}
	if err := f.See(Picture{50, 50, make([]uint8, 10)}, 0); err == nil {
		t.Error("half a picture is looked at")
	}
	if err := errors.Join(f.See(whole, 0), f.See(whole, 0.1)); err != nil {
		t.Error(err)
	}
	if err := f.See(whole, 0.1); err == nil {
		t.Error("a picture from before is looked at")
	}
}

// A disc with one mark that makes a quarter turn in ten pictures.
func Example() {
	f, err := New(60, 60, []Watch{{live.Left, Box{2, 2, 56, 56}, 1}})
	if err != nil {
		fmt.Println(err)
		return
	}
	rng := rand.New(rand.NewPCG(1, 1))
	for i := range 11 {
		if err := f.See(scene{size: 60, marks: 1}.draw(rng, 0.025*float64(i), 0, false), float64(i)/30); err != nil {
			fmt.Println(err)
			return
		}
	}
	fmt.Println(f.Discs()[0].Sentence)
	// Output: 0.25 turns.
}

func BenchmarkSee(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 1))
	p := scene{size: 240, marks: 1, noise: 3}.draw(rng, 0.3, 0, false)
	f, err := New(240, 240, []Watch{{live.Left, Box{8, 8, 220, 220}, 1}, {live.Input, Box{60, 60, 100, 100}, 1}})
	if err != nil {
		b.Fatal(err)
	}
	at := 0.0
	for b.Loop() {
		f.pictures, at = 0, at+1
		if err := f.See(p, at); err != nil {
			b.Fatal(err)
		}
	}
}
