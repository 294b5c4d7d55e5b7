/* no_edit.c - without ncurses there is no `uvrek live edit`. */
#include "live.h"

int live_edit(const struct live_wishes *wishes, int count, char **words)
{
    (void)wishes;
    (void)count;
    (void)words;
    complain("this uvrek was built without ncurses: it has no `live edit`. Install "
             "libncurses-dev and build it again, or use `live set`");
    return STATUS_NOT_DONE;
}
