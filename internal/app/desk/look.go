package desk

import (
	"context"
	"time"

	"turret/internal/app/access"
)

// Look is what stood on somebody's desk at a moment: the state and day of each thing by its key.
type Look struct {
	At    time.Time
	Items map[string]string
}

// Looks are the last look of somebody at their desk and the one of the visit before it; the zero value is that they never looked.
type Looks struct{ Now, Former Look }

// pause is how long nobody looks at a desk between two visits.
const pause = 30 * time.Minute

// next are the looks after one more. What is looked at again within a visit leaves the visit before as it is.
func (l Looks) next(at time.Time, items map[string]string) Looks {
	if !l.Now.At.IsZero() && at.Sub(l.Now.At) >= pause {
		l.Former = l.Now
	}
	l.Now = Look{at, items}
	return l
}

func (x *Item) key() string { return string(x.Kind) + "\x1f" + x.Holder.Code + "\x1f" + x.Code }

// stood is how a thing stands, as far as whoever has it would want to hear of a change.
func (x *Item) stood() string {
	day := ""
	if x.Due != 0 {
		day = x.Due.String()
	}
	return x.State + "\x1f" + day + "\x1f" + x.Title
}

// look keeps that the actor looks at the desk now, and marks what is new or changed since the visit before.
func (o *Office) look(ctx context.Context, actor *access.Actor, d *Desk) error {
	former, err := o.store.Looked(ctx, actor.Login)
	if err != nil {
		return err
	}
	items := map[string]string{}
	for i := range d.Items {
		items[d.Items[i].key()] = d.Items[i].stood()
	}
	looks := former.next(o.now(), items)
	d.since(&looks.Former)
	return o.store.Look(ctx, actor.Login, looks)
}

// since tells what is new on the desk and changed since a look, and how much has gone from it; nothing where there was none.
func (d *Desk) since(was *Look) {
	if d.Since = was.At; was.At.IsZero() {
		return
	}
	left := len(was.Items)
	for i := range d.Items {
		x := &d.Items[i]
		stood, ok := was.Items[x.key()]
		if ok {
			left--
		}
		x.New, x.Changed = !ok, ok && stood != x.stood()
	}
	d.Gone = left
}
