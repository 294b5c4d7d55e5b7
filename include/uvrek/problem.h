/* problem.h - what went wrong on the desk, as a GError.
 *
 * The code of a problem is the exit status of a command that ends with it: 1 when what
 * was asked about is not well, 2 when it could not be done. */
#ifndef UVREK_PROBLEM_H
#define UVREK_PROBLEM_H

#include <glib.h>

#ifdef __cplusplus
extern "C" {
#endif

#define UVK_PROBLEM uvk_problem_quark()
GQuark uvk_problem_quark(void);

enum uvk_problem { UVK_NOT_WELL = 1, UVK_NOT_DONE = 2 };

#ifdef __cplusplus
}
#endif

#endif
