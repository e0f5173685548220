package speedo

import (
	"math"

	"zorvel/core/say"
)

// settle finds how much the fixes scatter, and standing that the scatter hides:
// the speed that a straight line through the fixes of some seconds gives.
func (t *Track) settle(w flat) {
	still := make([]bool, len(t.steps))
	for i := range t.steps {
		if t.steps[i].state == "gap" {
			continue
		}
		mid := (t.steps[i].from + t.steps[i].to) / 2
		a, b := t.window(i, func(k int) bool {
			return math.Abs(t.steps[k].from-mid) <= stillOver && math.Abs(t.steps[k].to-mid) <= stillOver
		})
		n := b - a + 2 // fixes
		dt := t.steps[b].to - t.steps[a].from
		if n < 4 || dt < stillOver {
			continue // too few fixes around it tell nothing
		}
		v := w.line(a, b+1)
		// The slope of a line through n fixes over dt scatters by √12·σ ÷ (dt·√n).
		own := math.Sqrt(12/float64(n)) * t.Scatter / dt
		still[i] = v*3.6 < math.Max(stillKMH, 3*own*3.6)
	}
	for i, is := range still {
		if is {
			t.steps[i].state = "paused"
		}
	}
	t.nowhere(w)
}

// nowhere finds moments of seeming motion within standing that lead nowhere:
// the vehicle stands at the same place before and after.
func (t *Track) nowhere(w flat) {
	place := func(a, b int) (x, y float64) { // mean of the fixes a..b
		for k := a; k <= b; k++ {
			x, y = x+w.x[k], y+w.y[k]
		}
		n := float64(b - a + 1)
		return x / n, y / n
	}
	run := func(i int, state string) int {
		for i < len(t.steps) && t.steps[i].state == state {
			i++
		}
		return i
	}
	for i := 0; i < len(t.steps); {
		if t.steps[i].state != "paused" {
			i++
			continue
		}
		k := run(i, "paused")
		m := run(k, "driving")
		if m == k || m == len(t.steps) || t.steps[m].state != "paused" || t.steps[m-1].to-t.steps[k].from > 2*smoothOver {
			i = k
			continue
		}
		end := run(m, "paused")
		x1, y1 := place(max(i, k-20), k)
		x2, y2 := place(m, min(end, m+20))
		if math.Hypot(x2-x1, y2-y1) < math.Max(2, 3*t.Scatter) {
			for j := k; j < m; j++ {
				t.steps[j].state = "paused"
			}
			i = max(i, m-20) // what was joined may join with the next
			continue
		}
		i = k
	}
}

// window is the range of steps around i, without gaps, that a condition takes.
func (t *Track) window(i int, in func(int) bool) (a, b int) {
	a, b = i, i
	const most = 150 // steps on either side; a higher rate of fixes needs no more
	for a > 0 && i-a < most && t.steps[a-1].state != "gap" && in(a-1) {
		a--
	}
	for b+1 < len(t.steps) && b-i < most && t.steps[b+1].state != "gap" && in(b+1) {
		b++
	}
	return a, b
}

// flat is the way in meters north and east, laid out from fix to fix, and its
// times; differences over some hundred fixes are true on any track.
type flat struct{ x, y, s []float64 }

func (t *Track) flatten(kept []Fix) flat {
	w := flat{make([]float64, len(kept)), make([]float64, len(kept)), make([]float64, len(kept))}
	for i, f := range kept {
		w.s[i] = f.At.Sub(t.Start).Seconds()
		if i == 0 {
			continue
		}
		o := kept[i-1]
		north := Meters(o, Fix{Lat: f.Lat, Lon: o.Lon})
		east := Meters(Fix{Lat: f.Lat, Lon: o.Lon}, f)
		if f.Lat < o.Lat {
			north = -north
		}
		if math.Mod(f.Lon-o.Lon+540, 360)-180 < 0 {
			east = -east
		}
		w.x[i], w.y[i] = w.x[i-1]+north, w.y[i-1]+east
	}
	return w
}

// line is the speed in m/s of a straight line through the fixes a..b, by least
// squares over time.
func (w flat) line(a, b int) float64 {
	var n, st, sx, sy, stt, stx, sty float64
	for k := a; k <= b; k++ {
		x, y, s := w.x[k]-w.x[a], w.y[k]-w.y[a], w.s[k]-w.s[a]
		n, st, sx, sy, stt, stx, sty = n+1, st+s, sx+x, sy+y, stt+s*s, stx+s*x, sty+s*y
	}
	d := n*stt - st*st
	if d <= 0 {
		return 0
	}
	return math.Hypot(n*stx-st*sx, n*sty-st*sy) / d
}

// scatter is the standard deviation of the fixes along one axis, from third
// differences: motion with steady acceleration has none, white scatter of σ has
// √20·σ. The median leaves turns and braking out.
func (w flat) scatter(kept []Fix) float64 {
	var d []float64
	for i := 3; i < len(kept); i++ {
		dt := w.s[i] - w.s[i-1]
		if kept[i].Segment != kept[i-3].Segment || dt <= 0 || math.Abs(w.s[i]-w.s[i-3]-3*dt) > 0.2*dt {
			continue
		}
		d = append(d, math.Abs(w.x[i]-3*w.x[i-1]+3*w.x[i-2]-w.x[i-3]), math.Abs(w.y[i]-3*w.y[i-1]+3*w.y[i-2]-w.y[i-3]))
	}
	if len(d) < 20 {
		return 0
	}
	return sortFloats(d)[len(d)/2] / 0.6745 / math.Sqrt(20)
}

// smooth takes the scatter out of the length of the driven steps: the fixes are
// replaced by quadratics through those around them, over as many as it takes
// until scatter adds no more than lengthBias. With n fixes around, a step of L
// meters is lengthened by 12·σ² ÷ (n³·2L²) of itself.
func (t *Track) smooth(kept []Fix, w flat) {
	if t.Scatter == 0 {
		return
	}
	at := make([][2]float64, len(kept))
	half := make([]int, len(kept))
	gaps := make([]int, len(kept)) // before each fix
	for i, x := range t.steps {
		gaps[i+1] = gaps[i]
		if x.state == "gap" {
			gaps[i+1]++
		}
	}
	for i := range kept {
		s := min(max(i-1, 0), len(t.steps)-1)
		mid := w.s[i]
		a, b := t.window(s, func(k int) bool {
			return math.Abs(t.steps[k].from-mid) <= stillOver && math.Abs(t.steps[k].to-mid) <= stillOver
		})
		dt := t.steps[b].to - t.steps[a].from
		v := w.line(a, b+1)
		step := v * dt / float64(b-a+1)
		n := math.Inf(1)
		if step > 0 {
			n = math.Cbrt(6 * t.Scatter * t.Scatter / (step * step * lengthBias))
		}
		h := int(math.Min(math.Ceil((n-1)/2), 200))
		// Neither into a gap nor over more seconds than a bend takes.
		for h > 1 && (i-h < 0 || i+h >= len(kept) || w.s[i+h]-w.s[i-h] > 2*smoothOver || kept[i-h].Segment != kept[i+h].Segment || gaps[i-h] != gaps[i+h]) {
			h--
		}
		for h > 1 && t.bend(w, i, h) > maxBend {
			h--
		}
		if h > 1 && i-h >= 0 && i+h < len(kept) && n > 3 {
			half[i] = h
			at[i] = w.quadratic(i, h)
		}
	}
	var length, bias float64
	for i := range t.steps {
		s := &t.steps[i]
		if s.state != "driving" || s.meters == 0 {
			continue
		}
		x, y := w.x[i+1]-w.x[i], w.y[i+1]-w.y[i]
		m := math.Hypot(x+at[i+1][0]-at[i][0], y+at[i+1][1]-at[i][1])
		n := float64(2*min(half[i], half[i+1]) + 1)
		k := 2 * t.Scatter * t.Scatter // both ends, each by itself
		if n > 1 {
			k = 12 * t.Scatter * t.Scatter / (n * n * n)
		}
		length += m
		if h := min(half[i], half[i+1]); h > 1 { // what the quadratic cuts off a bend
			bias += m * math.Pow(math.Min(t.bend(w, i, h), 1.5), 4) / 280
		}
		bias += math.Min(k/(2*math.Max(m, 0.1)), m)
		s.meters = m
	}
	if length > 0 {
		t.Noise = say.Round(bias/length*100, 3)
	}
	t.Scatter = say.Round(t.Scatter, 3)
}

// maxBend is the greatest change of direction, in radians, from the first to
// the second half of what is smoothed over. A quadratic over a bend of radius r
// that turns by θ in each half lies θ⁴/280·r inside it.
const maxBend = 0.9

// bend is the angle between the ways from fix i−h to i and from i to i+h; ways
// that are lost in the scatter have none.
func (t *Track) bend(w flat, i, h int) float64 {
	k := min(i+h, len(w.x)-1)
	x1, y1 := w.x[i]-w.x[i-h], w.y[i]-w.y[i-h]
	x2, y2 := w.x[k]-w.x[i], w.y[k]-w.y[i]
	if math.Min(math.Hypot(x1, y1), math.Hypot(x2, y2)) < 5*t.Scatter {
		return 0
	}
	return math.Abs(math.Atan2(x1*y2-y1*x2, x1*x2+y1*y2))
}

// quadratic is how far the least-squares quadratic through the fixes i−h..i+h
// lies from fix i, at its time, in meters north and east.
func (w flat) quadratic(i, h int) [2]float64 {
	var s0, s1, s2, s3, s4 float64
	var bx, by [3]float64
	for k := i - h; k <= i+h; k++ {
		x, y, u := w.x[k]-w.x[i], w.y[k]-w.y[i], w.s[k]-w.s[i]
		s0, s1, s2, s3, s4 = s0+1, s1+u, s2+u*u, s3+u*u*u, s4+u*u*u*u
		bx[0], bx[1], bx[2] = bx[0]+x, bx[1]+u*x, bx[2]+u*u*x
		by[0], by[1], by[2] = by[0]+y, by[1]+u*y, by[2]+u*u*y
	}
	// Cramer's rule for the constant term.
	det := s0*(s2*s4-s3*s3) - s1*(s1*s4-s3*s2) + s2*(s1*s3-s2*s2)
	if det == 0 {
		return [2]float64{}
	}
	con := func(b [3]float64) float64 {
		return (b[0]*(s2*s4-s3*s3) - s1*(b[1]*s4-s3*b[2]) + s2*(b[1]*s3-s2*b[2])) / det
	}
	return [2]float64{con(bx), con(by)}
}
