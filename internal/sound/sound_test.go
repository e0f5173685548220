package sound

import (
	"bytes"
	"encoding/binary"
	"errors"
	"math"
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
