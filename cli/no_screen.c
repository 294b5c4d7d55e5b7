/* no_screen.c - without ncurses there is no `uvrek live edit`, and `uvrek keys` tells in lines.
 */
#include "trying.h"

int live_edit(const struct live_wishes *wishes, int count, char **words)
{
    (void)wishes;
    (void)count;
    (void)words;
    complain("this uvrek was built without ncurses: it has no `live edit`. Install "
             "libncurses-dev and build it again, or use `live set`");
    return STATUS_NOT_DONE;
}

bool trying_on_screen(struct trying *trying, GError **error)
{
    return trying_in_lines(trying, false, error);
}

bool trying_has_screen(void)
{
    return false;
}
