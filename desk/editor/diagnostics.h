/* diagnostics.h - what is wrong, for those who tell it and those who mend it. */
#ifndef UVREK_EDITOR_DIAGNOSTICS_H
#define UVREK_EDITOR_DIAGNOSTICS_H

#include "serving.h"

/* A message, and where the client looks for it. Its program belongs to a document. */
struct told {
    char *uri;
    const struct uvk_source *source; /* NULL: it is about no place */
    const struct uvk_message *message;
};

/* Of all open texts and those they use. Freed with the list. */
GArray *all_messages(struct uvk_editor *editor); /* of struct told */

/* As the protocol has it. */
json_t *diagnostic_of(const struct uvk_editor *editor, const struct told *told);

#endif
