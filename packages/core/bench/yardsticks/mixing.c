#include "mixing.h"

MAIN(mixing(1, 1000000, 120))
