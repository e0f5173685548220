package authority

import (
	"crypto/tls"
	"fmt"
	"os"
	"sync"
	"time"
)

// lookAgain is how often the files of a certificate from elsewhere are looked at.
const lookAgain = time.Minute

// Files serves with a certificate of the shop's own choice, and takes up a new one when
// the files change; while they can't be read, the last one serves on.
func Files(certFile, keyFile string) (*tls.Config, error) {
	f := &files{cert: certFile, key: keyFile}
	if err := f.load(); err != nil {
		return nil, fmt.Errorf("the certificate %s with the key %s: %w", certFile, keyFile, err)
	}
	return &tls.Config{MinVersion: tls.VersionTLS12, NextProtos: []string{"http/1.1"}, GetCertificate: f.get}, nil
}

type files struct {
	cert, key string

	mu     sync.Mutex
	pair   *tls.Certificate
	stamp  time.Time // of the files when they were read
	looked time.Time
}

func (f *files) load() error {
	stamp, err := f.changed()
	if err != nil {
		return err
	}
	pair, err := tls.LoadX509KeyPair(f.cert, f.key)
	if err != nil {
		return err
	}
	f.pair, f.stamp = &pair, stamp
	return nil
}

// changed is when either of the files was written last.
func (f *files) changed() (time.Time, error) {
	var last time.Time
	for _, name := range []string{f.cert, f.key} {
		info, err := os.Stat(name)
		if err != nil {
			return last, err
		}
		if info.ModTime().After(last) {
			last = info.ModTime()
		}
	}
	return last, nil
}

func (f *files) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	f.mu.Lock()
	defer f.mu.Unlock()
	if now := time.Now(); now.Sub(f.looked) >= lookAgain {
		f.looked = now
		if stamp, err := f.changed(); err == nil && !stamp.Equal(f.stamp) {
			_ = f.load() // half written: the next look reads it
		}
	}
	return f.pair, nil
}
