/* problem.c - the domain of the desk's errors. */
#include "uvrek/problem.h"

GQuark uvk_problem_quark(void)
{
    return g_quark_from_static_string("uvrek-problem");
}
