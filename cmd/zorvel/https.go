package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"zorvel/api"
	"zorvel/internal/authority"
	"zorvel/internal/httpd"
	"zorvel/internal/server"
)

// secureFlags say whether and how a server is reached over HTTPS.
type secureFlags struct {
	on        bool
	addr, dir string
	names     []string
	cert, key string
}

func (f *secureFlags) add(c *cobra.Command) {
	c.Flags().BoolVar(&f.on, "https", env("ZORVEL_HTTPS", "") == "true",
		"serve over HTTPS with the shop's own authority; the plain address then only leads phones to it (ZORVEL_HTTPS=true)")
	c.Flags().StringVar(&f.addr, "https-addr", env("ZORVEL_HTTPS_ADDR", ""),
		"secure address to listen on; port 8443 beside the plain address if empty (ZORVEL_HTTPS_ADDR)")
	c.Flags().StringVar(&f.cert, "https-cert", env("ZORVEL_HTTPS_CERT", ""),
		"a certificate of your own, PEM with its chain (ZORVEL_HTTPS_CERT)")
	c.Flags().StringVar(&f.key, "https-key", env("ZORVEL_HTTPS_KEY", ""), "its key, PEM (ZORVEL_HTTPS_KEY)")
	f.addAuthority(c)
}

func (f *secureFlags) addAuthority(c *cobra.Command) {
	c.Flags().StringVar(&f.dir, "https-dir", env("ZORVEL_HTTPS_DIR", defaultSecureDir()),
		"folder of the shop's authority; only this user may read it (ZORVEL_HTTPS_DIR)")
	c.Flags().StringSliceVar(&f.names, "https-name", words(env("ZORVEL_HTTPS_NAME", "")),
		"names and addresses that people reach the server by; this machine's own if empty (ZORVEL_HTTPS_NAME)")
}

// defaultSecureDir is where a service may keep its state, or the folder of a trial.
func defaultSecureDir() string {
	if d := os.Getenv("STATE_DIRECTORY"); d != "" {
		return filepath.Join(d, "https")
	}
	return filepath.Join(".local", "https")
}

// options name the authority's names: those that were given, or what this machine is
// called and reached by today.
func (f *secureFlags) options(log *slog.Logger) authority.Options {
	if len(f.names) > 0 {
		return authority.Options{Names: f.names, Log: log}
	}
	return authority.Options{Also: ownNames(), Log: log}
}

// ownNames are this machine's name, alone and in the local domain, and its addresses.
func ownNames() []string {
	var names []string
	if h, err := os.Hostname(); err == nil && h != "" {
		h = strings.ToLower(h)
		names = append(names, h)
		if !strings.Contains(h, ".") {
			names = append(names, h+".local")
		}
	}
	addresses, err := net.InterfaceAddrs()
	if err != nil {
		return names
	}
	for _, a := range addresses {
		if n, ok := a.(*net.IPNet); ok && !n.IP.IsLoopback() && !n.IP.IsLinkLocalUnicast() {
			names = append(names, n.IP.String())
		}
	}
	return names
}

// prepare sets the server up for HTTPS. It gives the address that it then listens on, and
// what answers at the plain address; the latter is nil without HTTPS.
func (f *secureFlags) prepare(cfg *server.Config, plain string) (addr string, atPlain http.Handler, err error) {
	if (f.cert == "") != (f.key == "") {
		return "", nil, errors.New("--https-cert and --https-key belong together")
	}
	if !f.on && f.cert == "" {
		return plain, nil, nil
	}
	addr = f.addr
	if addr == "" {
		host, _, err := net.SplitHostPort(plain)
		if err != nil {
			return "", nil, fmt.Errorf("--addr %q: %w", plain, err)
		}
		addr = net.JoinHostPort(host, "8443")
	}
	_, port, err := net.SplitHostPort(addr)
	if err != nil {
		return "", nil, fmt.Errorf("--https-addr %q: %w", addr, err)
	}
	_, plainPort, err := net.SplitHostPort(plain)
	if err != nil {
		return "", nil, fmt.Errorf("--addr %q: %w", plain, err)
	}
	cfg.SecureCookies = true
	cfg.Phones = api.Phones{Secure: true}
	if f.cert != "" {
		if cfg.TLS, err = authority.Files(f.cert, f.key); err != nil {
			return "", nil, err
		}
		return addr, httpd.Trust(nil, "", port), nil
	}
	a, err := authority.Open(f.dir, f.options(cfg.Log))
	if errors.Is(err, authority.ErrNotCovered) {
		return "", nil, fmt.Errorf("%w; make a new authority with zorvel https --renew, then trust it on each phone", err)
	}
	if err != nil {
		return "", nil, err
	}
	cfg.TLS = a.TLS()
	ends, print := a.Ends(), a.Fingerprint()
	cfg.Phones.Ends, cfg.Phones.Fingerprint = &ends, &print
	for _, n := range reached(a.Names(), addr) {
		cfg.Phones.Addresses = append(cfg.Phones.Addresses, "https://"+net.JoinHostPort(n, port))
		cfg.Phones.Trust = append(cfg.Phones.Trust, "http://"+net.JoinHostPort(n, plainPort)+"/trust")
	}
	return addr, httpd.Trust(a.Root(), print, port), nil
}

// reached are the names by which others reach a listener: all but this machine's own
// loopback, or that alone where it listens there alone.
func reached(names []string, addr string) []string {
	host, _, _ := net.SplitHostPort(addr)
	if ip := net.ParseIP(host); host == "localhost" || (ip != nil && ip.IsLoopback()) {
		return []string{host}
	}
	var out []string
	for _, n := range names {
		if ip := net.ParseIP(n); n != "localhost" && (ip == nil || !ip.IsLoopback()) {
			out = append(out, n)
		}
	}
	return out
}

// servePlain answers at the plain address of a secure server until ctx is done.
func servePlain(ctx context.Context, addr string, h http.Handler, log *slog.Logger) error {
	l, err := new(net.ListenConfig).Listen(ctx, "tcp", addr)
	if err != nil {
		return err
	}
	s := &http.Server{Handler: h, ReadTimeout: 10 * time.Second, WriteTimeout: 10 * time.Second,
		IdleTimeout: 30 * time.Second, MaxHeaderBytes: 16 << 10}
	context.AfterFunc(ctx, func() { _ = s.Close() })
	go func() {
		if err := s.Serve(httpd.Usual.Listener(l)); err != nil && !errors.Is(err, http.ErrServerClosed) {
			log.Error("plain address", "error", err)
		}
	}()
	return nil
}

func httpsCommand() *cobra.Command {
	var f secureFlags
	var renew bool
	var out string
	c := &cobra.Command{
		Use:   "https",
		Short: "Show the shop's own authority for HTTPS, or make a new one",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			open := authority.Open
			if renew {
				open = authority.Renew
			}
			a, err := open(f.dir, f.options(slog.Default()))
			if err != nil {
				return err
			}
			if out != "" {
				if err := os.WriteFile(out, a.Root(), 0o644); err != nil {
					return err
				}
			}
			c.Printf("names:        %s\ngood until:   %s\nSHA-256:      %s\nfolder:       %s\n",
				strings.Join(a.Names(), ", "), a.Ends().Format(time.DateOnly), a.Fingerprint(), f.dir)
			if renew {
				c.Println("New authority: trust it on each phone again (page On phones), and restart the server.")
			}
			return nil
		},
	}
	f.addAuthority(c)
	c.Flags().BoolVar(&renew, "renew", false, "make a new authority in the place of the old one; every phone has to trust it again")
	c.Flags().StringVar(&out, "export", "", "write the authority's certificate to this file")
	return c
}
