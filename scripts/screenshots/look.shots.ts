import { test } from '@playwright/test'
import { open } from '../../e2e/served'
