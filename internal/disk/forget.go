package disk

import (
	"os"
	"path/filepath"
	"time"
)

// Forget removes folders beside a new one, of names that begin alike, that a process which was killed left behind so long ago, by the file
// system's own time.
func Forget(made, prefix string, old time.Duration) {
	list, _ := filepath.Glob(filepath.Join(filepath.Dir(made), prefix+"*"))
	now, err := os.Stat(made)
	for i := 0; i < len(list) && err == nil; i++ {
		if f, err := os.Stat(list[i]); err == nil && now.ModTime().Sub(f.ModTime()) > old {
			_ = os.RemoveAll(list[i])
		}
	}
}
