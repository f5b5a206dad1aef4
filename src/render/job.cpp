// SPDX-License-Identifier: Apache-2.0
#include "render/job.h"
