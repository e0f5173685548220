package cluster

import (
	"errors"
	"fmt"
	"os"
	"os/exec"
	"runtime"
	"sync"
	"syscall"
	"time"
)

// Process is a program that ends with this one, and can be killed and frozen.
type Process struct {
	Name string
	log  string
	make func() *exec.Cmd

	mu    sync.Mutex
	cmd   *exec.Cmd
	ended chan struct{}
}

// start starts the program.
func (p *Process) start() error {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.ended != nil && !closed(p.ended) {
		return fmt.Errorf("%s runs already", p.Name)
	}
	log, err := os.OpenFile(p.log, os.O_CREATE|os.O_WRONLY|os.O_APPEND, 0o644)
	if err != nil {
		return err
	}
	defer func() { _ = log.Close() }() // the child has its own
	cmd := p.make()
	cmd.Stdout, cmd.Stderr = log, log
	// Its own group, so that Ctrl-C at a terminal reaches it only through stop; and a
	// death signal, so that a killed parent takes it along.
	if cmd.SysProcAttr == nil {
		cmd.SysProcAttr = &syscall.SysProcAttr{}
	}
	cmd.SysProcAttr.Setpgid, cmd.SysProcAttr.Pdeathsig = true, syscall.SIGTERM
	started, ended := make(chan error, 1), make(chan struct{})
	go func() {
		runtime.LockOSThread() // a child's death signal follows the thread that started it
		defer close(ended)
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait()
		}
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("starting %s: %w", p.Name, err)
	}
	p.cmd, p.ended = cmd, ended
	return nil
}

func closed(c <-chan struct{}) bool {
	select {
	case <-c:
		return true
	default:
		return false
	}
}

// signal reaches the program and what it started.
func (p *Process) signal(s syscall.Signal) {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.cmd != nil && !closed(p.ended) {
		_ = syscall.Kill(-p.cmd.Process.Pid, s)
	}
}

// Kill ends it at once, as a power cut does, and waits until it is gone.
func (p *Process) Kill() {
	p.signal(syscall.SIGKILL)
	p.wait(10 * time.Second)
}

// Freeze has it stand still; Thaw lets it go on.
func (p *Process) Freeze() { p.signal(syscall.SIGSTOP) }

// Thaw lets it go on.
func (p *Process) Thaw() { p.signal(syscall.SIGCONT) }

// stop asks it to end, and kills it where it doesn't.
func (p *Process) stop(within time.Duration) error {
	p.signal(syscall.SIGCONT)
	p.signal(syscall.SIGTERM)
	if p.wait(within) {
		return nil
	}
	p.Kill()
	return errors.New(p.Name + " did not stop and was killed")
}

// wait reports whether it ended in time.
func (p *Process) wait(within time.Duration) bool {
	p.mu.Lock()
	ended := p.ended
	p.mu.Unlock()
	if ended == nil {
		return true
	}
	select {
	case <-ended:
		return true
	case <-time.After(within):
		return false
	}
}

// said is the end of what it wrote.
func (p *Process) said() string {
	b, _ := os.ReadFile(p.log)
	return string(b[max(0, len(b)-1500):])
}
