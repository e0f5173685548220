// Package sound reads recordings: WAV as recorders and browsers write it, down to one
// channel of figures from −1 to 1.
package sound

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"
)

// MostBytes is the longest file that is read.
const MostBytes = 12 << 20

// ErrNoSound is returned for what is no WAV, or none that can be read.
var ErrNoSound = errors.New("this is no WAV recording: plain PCM of 8, 16, 24 or 32 bits is read")

const (
	mostChannels = 8
	pcm          = 1
	extensible   = 0xfffe // the same figures, with where each loudspeaker is
)

// format is what a WAV says of its figures.
type format struct {
	Tag, Channels uint16
	Rate          uint32
	PerSecond     uint32 // bytes
	Frame, Bits   uint16
}

// Read reads a WAV: its channels, averaged, and samples a second. A file that is cut off
// is read as far as it goes.
func Read(data []byte) (samples []float64, rate float64, err error) {
	f, body, err := parts(data)
	if err != nil {
		return nil, 0, err
	}
	return f.mono(body), float64(f.Rate), nil
}

// Plain is a WAV's sound alone: what else recorders write into it (where and when, who,
// pictures) is left out. Seconds is how long it is.
func Plain(data []byte) (wav []byte, seconds float64, err error) {
	f, body, err := parts(data)
	if err != nil {
		return nil, 0, err
	}
	f.Tag = pcm
	body = body[:len(body)-len(body)%int(f.Frame)]
	if len(body)%2 != 0 {
		body = body[:len(body)-int(f.Frame)] // so that the file is even without a filling
	}
	return f.file(body), float64(len(body)) / float64(f.Frame) / float64(f.Rate), nil
}

// WAV is one channel of 16 bits; samples are from −1 to 1, what is beyond is cut.
func WAV(samples []float64, rate int) []byte {
	body := make([]byte, 0, 2*len(samples))
	for _, v := range samples {
		body = binary.LittleEndian.AppendUint16(body, uint16(int16(math.Round(max(-1, min(1, v))*math.MaxInt16))))
	}
	return (&format{Tag: pcm, Channels: 1, Rate: uint32(rate), Frame: 2, Bits: 16}).file(body)
}

// file is a WAV of such figures.
func (f *format) file(body []byte) []byte {
	f.PerSecond = f.Rate * uint32(f.Frame)
	out := make([]byte, 0, head+len(body))
	out = append(out, "RIFF"...)
	out = binary.LittleEndian.AppendUint32(out, uint32(head-8+len(body)))
	out = append(out, "WAVEfmt "...)
	out = binary.LittleEndian.AppendUint32(out, uint32(binary.Size(f)))
	out, err := binary.Append(out, binary.LittleEndian, f)
	if err != nil {
		panic(err) // a struct of plain numbers has a size
	}
	out = append(out, "data"...)
	out = binary.LittleEndian.AppendUint32(out, uint32(len(body)))
	return append(out, body...)
}

// head is what stands before the figures of a plain WAV, in bytes.
const head = 44

// parts finds what a WAV says of its figures, and the figures.
func parts(data []byte) (*format, []byte, error) {
	if len(data) > MostBytes {
		return nil, nil, fmt.Errorf("at most %d MB: cut out the part in which it howls", MostBytes>>20)
	}
	if len(data) < 12 || string(data[:4]) != "RIFF" || string(data[8:12]) != "WAVE" {
		return nil, nil, ErrNoSound
	}
	var f *format
	for rest := data[12:]; len(rest) >= 8; {
		name, size := string(rest[:4]), int64(binary.LittleEndian.Uint32(rest[4:]))
		body := rest[8:]
		body = body[:min(size, int64(len(body)))]
		switch name {
		case "fmt ":
			f = &format{}
			if _, err := binary.Decode(body, binary.LittleEndian, f); err != nil {
				return nil, nil, ErrNoSound
			}
		case "data":
			if f == nil || !f.plain() || len(body) < int(f.Frame) {
				return nil, nil, ErrNoSound
			}
			return f, body, nil
		}
		rest = rest[min(8+size+size%2, int64(len(rest))):]
	}
	return nil, nil, ErrNoSound
}

func (f *format) plain() bool {
	return (f.Tag == pcm || f.Tag == extensible) && f.Channels >= 1 && f.Channels <= mostChannels && f.Rate > 0 &&
		f.Bits%8 == 0 && f.Bits >= 8 && f.Bits <= 32 && f.Frame == f.Channels*f.Bits/8
}

// mono averages the channels.
func (f *format) mono(body []byte) []float64 {
	frame, width := int(f.Frame), int(f.Bits)/8
	out := make([]float64, len(body)/frame)
	for i := range out {
		sum := 0.0
		for c := range int(f.Channels) {
			sum += figure(body[i*frame+c*width:], width)
		}
		out[i] = sum / float64(f.Channels)
	}
	return out
}

// figure is one sample; of 8 bits they are from 0 to 255, of more around 0.
func figure(b []byte, width int) float64 {
	switch width {
	case 1:
		return (float64(b[0]) - 128) / 128
	case 2:
		return float64(int16(binary.LittleEndian.Uint16(b))) / (1 << 15)
	case 3:
		return float64(int32(uint32(b[0])<<8|uint32(b[1])<<16|uint32(b[2])<<24)>>8) / (1 << 23)
	}
	return float64(int32(binary.LittleEndian.Uint32(b))) / (1 << 31)
}
