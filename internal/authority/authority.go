// Package authority gives a shop a secure address without anyone's help: an authority of
// its own, which phones and tablets are told to trust once, and a server certificate that
// renews itself.
//
// The authority may vouch for the shop's own names and addresses and for nothing else
// (name constraints, RFC 5280, 4.2.1.10), so that a stolen key can't pass for a bank. Its
// key never leaves the folder, which only the server's user can read.
package authority

import (
	"crypto"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/hex"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
)

// How long each lives. Phones refuse server certificates of more than 825 days; a short
// one that renews itself is never missed by anybody.
const (
	authorityYears = 10
	serverDays     = 90
	renewBefore    = 30 * 24 * time.Hour
	retryAfter     = time.Hour
)

// ErrNotCovered says that the authority in the folder was made for other names.
var ErrNotCovered = errors.New("the shop's authority does not cover this name")

// Authority is a shop's own, with the server certificate that it signed last.
type Authority struct {
	dir   string
	names []string
	log   *slog.Logger
	now   func() time.Time

	root *x509.Certificate
	key  crypto.Signer

	mu     sync.Mutex
	leaf   *tls.Certificate
	failed time.Time // when a renewal failed last
}

// Options of Open.
type Options struct {
	// Names are the host names and IP addresses that the server is reached by.
	Names []string
	// Also are names that a new authority covers, and an old one serves where it does:
	// what the machine happens to be called and its addresses of today.
	Also []string
	// Log takes what goes wrong with a renewal.
	Log *slog.Logger
	// Now is the clock; the real one if nil.
	Now func() time.Time
}

// Open reads the authority of a folder, or makes one there. An authority that does not
// cover a name gives ErrNotCovered: phones trust the one they know, so that a new one is
// made only where someone says so, with Renew.
func Open(dir string, o Options) (*Authority, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	a, err := look(dir, o, true)
	if err != nil {
		return nil, err
	}
	if _, err := a.current(); err != nil {
		return nil, err
	}
	return a, nil
}

// Look reads the authority of a folder and changes nothing; what is not there is
// fs.ErrNotExist.
func Look(dir string, o Options) (*Authority, error) { return look(dir, o, false) }

func look(dir string, o Options, found bool) (*Authority, error) {
	a := &Authority{dir: dir, log: o.Log, now: o.Now}
	if a.now == nil {
		a.now = time.Now
	}
	if a.log == nil {
		a.log = slog.Default()
	}
	var err error
	if a.names, err = clean(slices.Concat(o.Names, o.Also)); err != nil {
		return nil, err
	}
	must, err := clean(o.Names)
	if err != nil {
		return nil, err
	}
	if err := private(a.path("authority.key")); err != nil {
		return nil, err
	}
	a.root, a.key, err = readPair(a.path("authority.pem"), a.path("authority.key"))
	switch {
	case errors.Is(err, fs.ErrNotExist) && exists(a.path("authority.pem")):
		return nil, fmt.Errorf("the key of the shop's authority is gone from %s: restore it, "+
			"or make a new authority with zorvel https --renew and trust it on each phone", dir)
	case errors.Is(err, fs.ErrNotExist) && !found:
		return nil, err
	case errors.Is(err, fs.ErrNotExist):
		if err := a.found(); err != nil {
			return nil, err
		}
	case err != nil:
		return nil, fmt.Errorf("the shop's authority in %s can't be read: %w", dir, err)
	}
	if a.now().After(a.root.NotAfter) {
		return nil, fmt.Errorf("the shop's authority in %s ended on %s: make a new one with zorvel https --renew, then "+
			"trust it on each phone", dir, a.root.NotAfter.Format(time.DateOnly))
	}
	for _, n := range must {
		if !covers(a.root, n) {
			return nil, fmt.Errorf("%s: %w", n, ErrNotCovered)
		}
	}
	a.names = slices.DeleteFunc(a.names, func(n string) bool {
		if covers(a.root, n) {
			return false
		}
		a.log.Warn("the shop's authority was made before this machine had this name or address; use one of the others", "name", n)
		return true
	})
	return a, nil
}

// Renew puts a new authority in the place of the one in a folder. Every phone has to
// trust it anew.
func Renew(dir string, o Options) (*Authority, error) {
	for _, f := range []string{"authority.pem", "authority.key", "server.pem", "server.key"} {
		if err := os.Remove(filepath.Join(dir, f)); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return nil, err
		}
	}
	return Open(dir, o)
}

func (a *Authority) path(file string) string { return filepath.Join(a.dir, file) }

// clean are the names in lower case, once each, in order, this machine's own among them.
func clean(names []string) ([]string, error) {
	var out []string
	for _, n := range append(slices.Clone(names), "localhost", "127.0.0.1", "::1") {
		n = strings.ToLower(strings.TrimSuffix(strings.TrimSpace(n), "."))
		ip := net.ParseIP(n)
		switch {
		case n == "" || slices.Contains(out, n):
		case ip != nil:
			out = append(out, ip.String())
		case len(n) > 253 || !hostName(n):
			return nil, fmt.Errorf("%q is neither a host name nor an IP address, for example shop.local or 192.168.1.20", n)
		default:
			out = append(out, n)
		}
	}
	slices.Sort(out)
	return slices.Compact(out), nil
}

// hostName holds a name to letters, digits and inner hyphens (RFC 1123, 2.1).
func hostName(n string) bool {
	for part := range strings.SplitSeq(n, ".") {
		if part == "" || len(part) > 63 || part[0] == '-' || part[len(part)-1] == '-' {
			return false
		}
		for _, r := range part {
			if (r < 'a' || r > 'z') && (r < '0' || r > '9') && r != '-' {
				return false
			}
		}
	}
	return true
}

// found makes the authority, limited to the names it was made for.
func (a *Authority) found() error {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return err
	}
	now := a.now()
	t := &x509.Certificate{
		SerialNumber:                serial(),
		Subject:                     pkix.Name{CommonName: "Zorvel shop authority, " + now.Format("January 2006")},
		NotBefore:                   now.Add(-time.Hour),
		NotAfter:                    now.AddDate(authorityYears, 0, 0),
		KeyUsage:                    x509.KeyUsageCertSign | x509.KeyUsageCRLSign,
		ExtKeyUsage:                 []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
		BasicConstraintsValid:       true,
		IsCA:                        true,
		MaxPathLenZero:              true,
		PermittedDNSDomainsCritical: true,
		// Neither mail nor other addresses: what is not named here is not limited.
		PermittedEmailAddresses: []string{"nobody@localhost"},
		PermittedURIDomains:     []string{"localhost"},
	}
	for _, n := range a.names {
		if ip := net.ParseIP(n); ip != nil {
			t.PermittedIPRanges = append(t.PermittedIPRanges, exactly(ip))
		} else {
			t.PermittedDNSDomains = append(t.PermittedDNSDomains, n)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, t, t, key.Public(), key)
	if err != nil {
		return err
	}
	if err := writePair(a.path("authority.pem"), a.path("authority.key"), der, key); err != nil {
		return err
	}
	a.root, a.key, err = readPair(a.path("authority.pem"), a.path("authority.key"))
	return err
}

// exactly is the network that holds one address.
func exactly(ip net.IP) *net.IPNet {
	if v4 := ip.To4(); v4 != nil {
		return &net.IPNet{IP: v4, Mask: net.CIDRMask(32, 32)}
	}
	return &net.IPNet{IP: ip, Mask: net.CIDRMask(128, 128)}
}

func covers(root *x509.Certificate, name string) bool {
	if ip := net.ParseIP(name); ip != nil {
		return slices.ContainsFunc(root.PermittedIPRanges, func(n *net.IPNet) bool { return n.Contains(ip) })
	}
	return slices.ContainsFunc(root.PermittedDNSDomains, func(d string) bool { return name == d || strings.HasSuffix(name, "."+d) })
}

// current is the server certificate: that of the folder, or a new one where it is missing,
// of another authority or of other names, or near its end.
func (a *Authority) current() (*tls.Certificate, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.leaf == nil {
		if c, key, err := readPair(a.path("server.pem"), a.path("server.key")); err == nil && a.signed(c) {
			a.leaf = chain(c, a.root, key)
		}
	}
	now := a.now()
	if a.leaf != nil && now.Before(a.leaf.Leaf.NotAfter.Add(-renewBefore)) && !now.Before(a.leaf.Leaf.NotBefore) {
		return a.leaf, nil
	}
	if a.leaf != nil && now.Before(a.leaf.Leaf.NotAfter) && now.Sub(a.failed) < retryAfter {
		return a.leaf, nil
	}
	fresh, err := a.sign()
	if err != nil {
		if a.leaf != nil && now.Before(a.leaf.Leaf.NotAfter) {
			a.failed = now
			a.log.Error("renewing the server's certificate", "error", err, "good until", a.leaf.Leaf.NotAfter)
			return a.leaf, nil
		}
		return nil, err
	}
	a.leaf = fresh
	return fresh, nil
}

// signed says whether a certificate is this authority's, for these names.
func (a *Authority) signed(c *x509.Certificate) bool {
	names := slices.Clone(c.DNSNames)
	for _, ip := range c.IPAddresses {
		names = append(names, ip.String())
	}
	slices.Sort(names)
	return c.CheckSignatureFrom(a.root) == nil && slices.Equal(names, a.names)
}

func (a *Authority) sign() (*tls.Certificate, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	now := a.now()
	end := now.AddDate(0, 0, serverDays)
	if end.After(a.root.NotAfter) {
		end = a.root.NotAfter
	}
	t := &x509.Certificate{
		SerialNumber: serial(),
		Subject:      pkix.Name{CommonName: "Zorvel"},
		NotBefore:    now.Add(-time.Hour),
		NotAfter:     end,
		KeyUsage:     x509.KeyUsageDigitalSignature,
		ExtKeyUsage:  []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	for _, n := range a.names {
		if ip := net.ParseIP(n); ip != nil {
			t.IPAddresses = append(t.IPAddresses, ip)
		} else {
			t.DNSNames = append(t.DNSNames, n)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, t, a.root, key.Public(), a.key)
	if err != nil {
		return nil, err
	}
	if err := writePair(a.path("server.pem"), a.path("server.key"), der, key); err != nil {
		return nil, err
	}
	c, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, err
	}
	return chain(c, a.root, key), nil
}

func chain(c, root *x509.Certificate, key crypto.PrivateKey) *tls.Certificate {
	return &tls.Certificate{Certificate: [][]byte{c.Raw, root.Raw}, PrivateKey: key, Leaf: c}
}

// TLS is what a listener serves with; the certificate renews itself while it serves.
func (a *Authority) TLS() *tls.Config {
	return &tls.Config{
		MinVersion:     tls.VersionTLS12,
		NextProtos:     []string{"http/1.1"},
		GetCertificate: func(*tls.ClientHelloInfo) (*tls.Certificate, error) { return a.current() },
	}
}

// Root is the authority's certificate as phones take it (DER).
func (a *Authority) Root() []byte { return a.root.Raw }

// Fingerprint of the authority, to compare on the phone: SHA-256 in pairs.
func (a *Authority) Fingerprint() string { return Fingerprint(a.root.Raw) }

// Fingerprint is the SHA-256 of a certificate in pairs of hexadecimal digits.
func Fingerprint(der []byte) string {
	sum := sha256.Sum256(der)
	text := strings.ToUpper(hex.EncodeToString(sum[:]))
	var pairs []string
	for pair := range slices.Chunk([]byte(text), 2) {
		pairs = append(pairs, string(pair))
	}
	return strings.Join(pairs, ":")
}

// Ends is when the authority has to be made anew.
func (a *Authority) Ends() time.Time { return a.root.NotAfter }

// Names that the server's certificate is good for.
func (a *Authority) Names() []string { return slices.Clone(a.names) }

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 127))
	if err != nil {
		panic(err) // the system has no randomness: nothing may be signed
	}
	return n
}

// private holds a key to its owner: one that others may read is no secret any more.
func private(file string) error {
	info, err := os.Stat(file)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	if open := info.Mode().Perm() & 0o077; open != 0 {
		return fmt.Errorf("%s can be read by others (%v): if nobody did, chmod 600 it; else make a new authority with "+
			"zorvel https --renew", file, info.Mode().Perm())
	}
	return nil
}

func exists(file string) bool {
	_, err := os.Stat(file)
	return err == nil
}

// readPair reads a certificate and its key.
func readPair(certFile, keyFile string) (*x509.Certificate, crypto.Signer, error) {
	for _, f := range []string{certFile, keyFile} {
		if _, err := os.Stat(f); err != nil {
			return nil, nil, err
		}
	}
	pair, err := tls.LoadX509KeyPair(certFile, keyFile)
	if err != nil {
		return nil, nil, err
	}
	signer, ok := pair.PrivateKey.(crypto.Signer)
	if !ok {
		return nil, nil, fmt.Errorf("%s can't sign", keyFile)
	}
	return pair.Leaf, signer, nil
}

// writePair writes the key first: a certificate without its key is made anew, a key
// without its certificate too.
func writePair(certFile, keyFile string, der []byte, key crypto.Signer) error {
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return err
	}
	if err := write(keyFile, 0o600, &pem.Block{Type: "PRIVATE KEY", Bytes: raw}); err != nil {
		return err
	}
	return write(certFile, 0o644, &pem.Block{Type: "CERTIFICATE", Bytes: der})
}

// write puts a file in its place whole.
func write(file string, mode fs.FileMode, b *pem.Block) error {
	t, err := os.CreateTemp(filepath.Dir(file), ".new-*")
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(t.Name()) }()
	err = errors.Join(t.Chmod(mode), pem.Encode(t, b), t.Sync(), t.Close())
	if err != nil {
		return err
	}
	return os.Rename(t.Name(), file)
}
