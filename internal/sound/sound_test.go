package sound

import (
	"bytes"
	"encoding/binary"
	"errors"
	"math"
	"slices"
	"testing"
)

// made is a WAV of a sine in every channel.
func made(rate, channels, bits, frames int) []byte {
	var body bytes.Buffer
	for i := range frames {
		v := math.Sin(2 * math.Pi * float64(i) / 50)
		for range channels {
			switch bits {
			case 8:
				body.WriteByte(byte(128 + 100*v))
			case 16:
				_ = binary.Write(&body, binary.LittleEndian, int16(25600*v))
			case 24:
				x := int32(6553600 * v)
				body.Write([]byte{byte(x), byte(x >> 8), byte(x >> 16)})
			case 32:
				_ = binary.Write(&body, binary.LittleEndian, int32(1677721600*v))
			}
		}
	}
	var out bytes.Buffer
	put := func(v any) { _ = binary.Write(&out, binary.LittleEndian, v) }
	out.WriteString("RIFF")
	put(uint32(36 + body.Len()))
	out.WriteString("WAVEfmt ")
	put(uint32(16))
	put(uint16(1))
	put(uint16(channels))
	put(uint32(rate))
	put(uint32(rate * channels * bits / 8))
	put(uint16(channels * bits / 8))
	put(uint16(bits))
	out.WriteString("data")
	put(uint32(body.Len()))
	out.Write(body.Bytes())
	return out.Bytes()
}

// Every width and number of channels reads as the same figures.
func TestRead(t *testing.T) {
	for _, bits := range []int{8, 16, 24, 32} {
		for _, channels := range []int{1, 2, 6} {
			x, rate, err := Read(made(8000, channels, bits, 4000))
			if err != nil || rate != 8000 || len(x) != 4000 {
				t.Fatalf("%d bits, %d channels: %d at %g, %v", bits, channels, len(x), rate, err)
			}
			for i, v := range x {
				if want := 0.78125 * math.Sin(2*math.Pi*float64(i)/50); math.Abs(v-want) > 0.012 {
					t.Fatalf("%d bits, %d channels: %g at %d, not %g", bits, channels, v, i, want)
				}
			}
		}
	}
}

// What is written is read again, to the half of a step.
func TestWAV(t *testing.T) {
	want := []float64{0, 0.5, -0.25, 1, -1, 3, -3}
	got, rate, err := Read(WAV(want, 8000))
	if err != nil || rate != 8000 || len(got) != len(want) {
		t.Fatalf("%v at %g, %v", got, rate, err)
	}
	for i, v := range got {
		if w := max(-1, min(1, want[i])); math.Abs(v-w) > 1.0/32768*1.01 {
			t.Errorf("%g, not %g", v, w)
		}
	}
}

// A plain WAV sounds the same, and says nothing else.
func TestPlain(t *testing.T) {
	for _, bits := range []int{8, 16, 24, 32} {
		wav := made(8000, 1, bits, 4000)
		told := append([]byte("LIST\x0c\x00\x00\x00"), "here and now"...)
		chatty := append(append(bytes.Clone(wav[:36]), told...), wav[36:]...)
		plain, seconds, err := Plain(chatty)
		if err != nil || math.Abs(seconds-0.5) > 1e-9 {
			t.Fatalf("%d bits: %g s, %v", bits, seconds, err)
		}
		if bytes.Contains(plain, []byte("here and now")) {
			t.Errorf("%d bits: says where it was recorded", bits)
		}
		got, rate, err := Read(plain)
		want, _, _ := Read(wav)
		if err != nil || rate != 8000 || !slices.Equal(got, want) {
			t.Errorf("%d bits: sounds another way: %v", bits, err)
		}
		if odd, _, err := Plain(made(8000, 1, bits, 3999)); err != nil || len(odd)%2 != 0 || len(odd) > len(plain) {
			t.Errorf("%d bits: %d bytes, %v", bits, len(odd), err)
		}
		if again, _, err := Plain(plain); err != nil || !bytes.Equal(again, plain) {
			t.Errorf("%d bits: made plain twice it differs: %v", bits, err)
		}
	}
}

func TestNoSound(t *testing.T) {
	good := made(8000, 1, 16, 100)
	float := bytes.Clone(good)
	float[20] = 3
	many := bytes.Clone(good)
	many[22] = 200
	for name, data := range map[string][]byte{"nothing": nil, "text": []byte("this is no sound"),
		"a head alone": good[:40],
		"floats":       float, "200 channels": many} {
		if _, _, err := Read(data); !errors.Is(err, ErrNoSound) {
			t.Errorf("%s: %v", name, err)
		}
	}
	if _, _, err := Read(make([]byte, MostBytes+1)); err == nil || errors.Is(err, ErrNoSound) {
		t.Errorf("too long: %v", err)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(made(8000, 1, 16, 30))
	f.Add(made(44100, 2, 24, 10))
	f.Fuzz(func(t *testing.T, data []byte) {
		x, rate, err := Read(data)
		if err == nil && (len(x) == 0 || math.IsNaN(rate)) {
			t.Error("nothing was read, and no error given")
		}
		for _, v := range x {
			if math.Abs(v) > 1.01 {
				t.Errorf("%g", v)
			}
		}
	})
}
