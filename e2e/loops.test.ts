import type { Page } from '@playwright/test'
import { expect, test, visit } from './served'

/** Opens a slot of the sentence and gives it a number. */
async function give(page: Page, slot: RegExp, text: string): Promise<void> {
  await page.getByRole('button', { name: slot }).first().click()
  await page.locator('[data-radix-popper-content-wrapper] input').fill(text)
  await page.keyboard.press('Enter')
}

/** Opens a slot of the sentence and chooses one of its words. */
async function choose(page: Page, slot: RegExp, words: string): Promise<void> {
  await page.getByRole('button', { name: slot }).first().click()
  await page.locator('[data-radix-popper-content-wrapper]').getByText(words, { exact: true }).click()
}

test('an engineer closes a cascade from the inside out', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const ladder = page.getByRole('region', { name: 'Bandwidth ladder' })

  await test.step('each loop sees the machine with those inside it closed', async () => {
    await page.goto(`${served.url}/lamplighter/loops/eastSpeed`)
    await expect(page.getByText('Those inside closed,')).toBeVisible()
    await expect(
      page.getByRole('button', { name: 'the other loops, while this one is designed: the others at rest' }),
    ).toBeVisible()
    await expect(page.getByText(/a gain of 79\.2 /)).toBeVisible() // a tilt accelerates by gravity until drag holds it: m g over 0.42, a little less as rotors feel the ground
    await expect(page.getByRole('region', { name: 'Phase account' })).toContainText('inner loop')
    await expect(ladder.locator('[data-arc="eastSpeed tiltNorth"]')).toContainText('3.1×')
  })

  await test.step('loops too near together are told, with the number that cures it', async () => {
    await visit(page, '/lamplighter/loops/east')
    await give(page, /^crossover/, '0.9')
    await expect(ladder).toContainText('east speed is 1.8 times faster than east; 3 is the least.')
    await page.getByRole('button', { name: 'Lower east to 0.533 rad/s' }).click()
    await expect(ladder).not.toContainText('is the least')
    await page.keyboard.press('Control+z')
    await expect(ladder).toContainText('is the least')
    await page.keyboard.press('Control+z')
  })

  await test.step('a filter behind the law is accounted for, and a limit of the command is kept', async () => {
    await visit(page, '/lamplighter/loops/rollRate')
    await page.getByRole('combobox', { name: 'Add to filters' }).selectOption('notch')
    await expect(page.getByRole('region', { name: 'Phase account' })).toContainText('filters')
    await give(page, /^frequency/, '700')
    await expect(page.getByText(/at or above half the sample rate, 628.3 rad\/s/).first()).toBeVisible()
    await page.keyboard.press('Control+z')
    await page.getByRole('button', { name: 'most', exact: true }).click()
    await expect(page.getByRole('button', { name: /^most command/ })).toBeVisible()
    await page.reload()
    await expect(page.getByRole('button', { name: /^most command/ })).toBeVisible()
    await page.getByRole('button', { name: 'Lift the limit: most' }).click()
    await page.getByRole('button', { name: 'Remove notch' }).click()
    await expect(page.getByRole('region', { name: 'Phase account' })).not.toContainText('filters')
  })

  await test.step('what the whole machine does in a trial stands beside what is predicted, and goes along', async () => {
    await visit(page, '/lamplighter/loops/height')
    await page.getByRole('button', { name: /^what is asked/ }).click()
    await page.getByRole('menuitemradio', { name: 'Gallery rise' }).click()
    const simulated = page.locator('path[data-series="simulated"]').first()
    await expect(simulated).toHaveAttribute('d', /^M.*L/)
    const before = (await simulated.getAttribute('d'))!
    const rung = page.getByRole('slider', { name: 'height crossover' })
    await rung.focus()
    await page.keyboard.press('Shift+ArrowUp')
    await expect(simulated).not.toHaveAttribute('d', before)
    await page.keyboard.press('Control+z')
    await expect(simulated).toHaveAttribute('d', before)
  })

  await test.step('a contradiction is named at its slot, and the last good design stays', async () => {
    await visit(page, '/lamplighter/loops/eastSpeed')
    await choose(page, /^reference/, 'its cue')
    await expect(page.getByText(/commands eastSpeed, which takes its reference from elsewhere/).first()).toBeVisible()
    await expect(page.getByText(/a gain of 79\.2 /)).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/takes its reference from elsewhere/)).toHaveCount(0)
    await give(page, /^sample rate/, '400')
    await expect(page.getByText(/faster than tilt ?north that it commands/i).first()).toBeVisible()
    await page.keyboard.press('Control+z')
  })

  await test.step('the calm map shows all designs; a click or an arrow takes one', async () => {
    await visit(page, '/lamplighter/loops/climbRate')
    const map = page.getByRole('slider', { name: /Design on the calm map/ })
    await expect(map).toHaveAttribute('aria-valuetext', '6.00 rad/s with 63.0° in hand')
    await map.focus()
    await page.keyboard.press('ArrowRight')
    await page.keyboard.press('Shift+ArrowUp')
    await expect(map).toHaveAttribute('aria-valuetext', '6.06 rad/s with 68.0° in hand')
    await map.click({ position: { x: 60, y: 90 } })
    await expect(map).not.toHaveAttribute('aria-valuetext', /^6\.0/)
    await choose(page, /^figure/, 'overshoot')
    await expect(page.getByRole('button', { name: /^figure: overshoot/ })).toBeVisible()
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
    await expect(map).toHaveAttribute('aria-valuetext', '6.00 rad/s with 63.0° in hand')
    // dragged to where no gains are and back: the map stays under the hand, and it was one edit, or none
    const take = async (from: { x: number; y: number }, to: { x: number; y: number }) => {
      await map.hover({ position: from }) // waits until it stands still: what is told of a design stands above it
      const { x, y } = (await map.boundingBox())!
      await page.mouse.down()
      await page.mouse.move(x + to.x, y + to.y, { steps: 4 })
    }
    const [low, high] = [
      { x: 60, y: 90 },
      { x: 230, y: 12 },
    ]
    await take(low, high)
    await expect(page.getByText(/are asked/).first()).toBeVisible()
    await expect(map).toBeVisible()
    await page.keyboard.press('Escape')
    await page.mouse.up()
    await expect(map).toHaveAttribute('aria-valuetext', '6.00 rad/s with 63.0° in hand')
    await expect(page.getByText(/are asked/)).toHaveCount(0)
    await take(high, low)
    await page.mouse.up()
    await expect(map).not.toHaveAttribute('aria-valuetext', /^6\.0/)
    await page.keyboard.press('Control+z')
    await expect(map).toHaveAttribute('aria-valuetext', '6.00 rad/s with 63.0° in hand')
    await visit(page, '/lamplighter/loops/eastSpeed')
    await expect(page.getByText('Those inside closed')).toBeVisible()
    await expect(map).toHaveCount(0) // one gain: a line of designs, no map
  })

  await test.step('gains come from what is wanted, or why not', async () => {
    await choose(page, /^where gains come from/, 'by a time constant')
    await expect(page.getByText(/^Follow within/)).toBeVisible()
    await expect(page.getByText(/a mode that swings, which these rules do not know/)).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/^Cross over at/)).toBeVisible()
    await visit(page, '/lamplighter/loops/rollRate')
    await choose(page, /^where gains come from/, 'by the edge of swinging')
    await expect(page.getByText('Gains from the edge at which it would swing for ever.')).toBeVisible()
    await expect(page.getByText(/and 6\.0 dB/)).toBeVisible()
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/^Cross over at/)).toBeVisible()
  })

  await test.step('the whole cascade flies there', async () => {
    await visit(page, '/lamplighter/trials/quayCrossing')
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByTestId('run-state')).toContainText('17.0 s in')
    const slider = page.getByRole('slider', { name: 'Time cursor' })
    await slider.fill('16')
    await expect(page.getByText(/east -(4|3\.99\d*|4\.0\d*) m, asks/)).toBeVisible()
    await choose(page, /^loop shown/, 'tilt north')
    await expect(page.getByRole('heading', { name: /^rate of tilt/ })).toBeVisible()
    await page.goBack()
  })
  expect(failures).toEqual([])
})

test('an engineer learns by turning gains, and asks for what he wants', async ({ page, served }) => {
  const failures: string[] = []
  page.on('pageerror', (error) => failures.push(error.message))
  const findings = page.getByRole('region', { name: 'Findings' })
  const kept = page.getByRole('region', { name: 'Kept answers' })

  await test.step('each answer stays, with what was found of it', async () => {
    await page.goto(`${served.url}/lens-float/loops/gap`)
    await expect(findings).toContainText('Stable')
    await page.keyboard.press('k')
    await page.getByRole('button', { name: 'Take over the gains' }).click()
    await give(page, /^integral gain/, '0')
    await expect(findings).toContainText('Ends off by')
    await page.keyboard.press('k')
    await give(page, /^proportional gain/, '-300')
    await expect(findings).toContainText('Pushes the wrong way')
    await expect(findings).toContainText('Unstable: runs away')
    await expect(kept.getByRole('listitem')).toHaveCount(2)
    await expect(kept).toContainText('Ends off by')
    await kept.getByRole('button', { name: 'Dismiss all' }).click()
    await expect(kept).toHaveCount(0)
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z')
    await expect(page.getByRole('button', { name: /^crossover/ })).toBeVisible()
  })

  await test.step('the loop is looked at in many ways, and the way survives a reload', async () => {
    for (const [tab, picture] of [
      ['Sensitivity', /^Sensitivity and closed loop/],
      ['Nyquist', /^Nyquist/],
      ['Nichols', /^Nichols/],
      ['Poles', /^Poles and zeros/],
      ['Locus', /^Root locus/],
      ['Forms', /^Plant/],
      ['Lanes', /^Rate lanes/],
    ] as const) {
      await page.getByRole('tab', { name: tab }).click()
      await expect(page.getByRole('img', { name: picture }).or(page.getByRole('group', { name: picture }))).toBeVisible()
    }
    await page.reload()
    await expect(page.getByRole('tab', { name: 'Lanes', selected: true })).toBeVisible()
    await page.getByRole('tab', { name: 'Margins' }).click()
  })

  await test.step('requirements are met by a search that says which one binds', async () => {
    await visit(page, '/sprung-cabin/loops/heave')
    await page.getByRole('button', { name: 'Meet requirements' }).click()
    await page.getByRole('textbox', { name: 'overshoot at most' }).fill('none')
    await expect(page.getByText(/“none” is not a number/)).toBeVisible()
    await page.getByRole('textbox', { name: 'overshoot at most' }).fill('-5')
    await expect(page.getByText(/give a number from 0 up/)).toBeVisible()
    await page.getByRole('textbox', { name: 'overshoot at most' }).fill('20')
    await page.getByRole('textbox', { name: 'recovers from a push within' }).fill('3000 ms')
    await page.getByRole('button', { name: 'Look for a design' }).click()
    // where a machine is quick the search may be over before it is cancelled
    const cancel = page.getByRole('button', { name: 'Cancel' })
    await cancel.dispatchEvent('click', undefined, { timeout: 2_000 }).catch(() => undefined)
    await page.getByRole('button', { name: 'Look for a design' }).click()
    await expect(page.getByText(/, binds/)).toBeVisible({ timeout: 60_000 })
    await expect(page.getByText(/recovers from a push within: 3 s asked/)).toBeVisible()
    await page.getByRole('button', { name: 'Take it' }).click()
    await page.keyboard.press('Escape')
    await page.keyboard.press('Control+z')
    await expect(page.getByRole('button', { name: 'crossover: 14 rad/s' })).toBeVisible()
  })

  await test.step('tilt is one vector of two loops, held while the nose turns', async () => {
    await visit(page, '/lamplighter/loops/tiltEast')
    await expect(page.getByText('One vector with tiltNorth')).toBeVisible()
    await visit(page, '/lamplighter/trials/turnAndCross')
    await page.getByRole('button', { name: /^Run/ }).click()
    await expect(page.getByText('20.0 s in')).toBeVisible({ timeout: 30_000 })
  })

  await test.step('what is missing of what was asked is drawn in place of what is held', async () => {
    await visit(page, '/lamplighter/loops/height')
    await choose(page, /^what is drawn/, 'Height error')
    await expect(page.getByRole('button', { name: 'what is drawn: Height error' })).toBeVisible()
    await expect(page).toHaveURL(/drawn=error/)
  })

  await test.step('the plant is looked at with layers of its own choice, with hold and delay', async () => {
    const plant = page.getByRole('region', { name: 'The plant it sees' })
    await plant.getByRole('switch', { name: 'Air' }).click()
    await expect(plant.getByText('What follows is of this choice')).toBeVisible()
    await choose(page, /^which form/, 'the plant with its hold and delay, sampled')
    await expect(plant.getByText(/\d states/)).toBeVisible()
  })

  await test.step('feedforward is compared on the cues of a trial', async () => {
    await visit(page, '/lens-turret/loops/pan')
    await choose(page, /^what is asked/, 'Passing ship')
    await page.keyboard.press('f')
    await expect(page.getByRole('columnheader', { name: 'lag' })).toBeVisible()
    await expect(page.getByRole('rowheader', { name: 'feedforward', exact: true })).toBeVisible()
  })

  await test.step('all loops together, what disturbs, and numbers that are not known well', async () => {
    await visit(page, '/lens-turret/loops/pan?look=together')
    await expect(page.getByText(/All at once, each in its own way/)).toBeVisible({ timeout: 30_000 })
    await expect(page.getByRole('row', { name: /^pan motor/ })).toContainText('°')
    await page.getByRole('tab', { name: 'Margins' }).click()
    await page.getByRole('button', { name: /^what is asked/ }).click()
    await page
      .getByRole('menuitemradio', { name: /^disturbed by/ })
      .first()
      .click()
    await expect(findings).toContainText(/on .* takes .* away by/)
    await choose(page, /^another number that varies/, 'mass of lens')
    await expect(page.getByRole('region', { name: 'Spread' })).toContainText('Of 2 cases the least in hand', { timeout: 30_000 })
    await page.reload()
    await expect(page.getByRole('region', { name: 'Spread' })).toContainText('mass of lens')
    await page
      .getByRole('slider', { name: /^Cursor of .* time$/ })
      .first()
      .focus()
    await page.keyboard.press('ArrowRight')
    await expect(page.getByText(/^At \d/)).toContainText(/drives|brakes|holds/)
    await page.getByRole('button', { name: 'mass of lens is known' }).click()
  })

  await test.step('what it shall keep is drawn on its map, and gains come back to what they were made for', async () => {
    await visit(page, '/sprung-cabin/loops/heave')
    await page.getByLabel('Add to it shall keep').selectOption('settlesWithin')
    await expect(findings).toContainText('at most 0.20 s was asked')
    await expect(page.locator('[data-limits] path').first()).toBeAttached({ timeout: 20_000 })
    await page.getByRole('button', { name: /^Calm map: table/ }).click()
    await page.getByRole('menuitem', { name: 'Show as a table' }).click()
    await expect(page.getByRole('columnheader', { name: /^60/ })).toBeVisible()
    await page.getByRole('button', { name: /^Calm map: table/ }).click()
    await page.getByRole('menuitem', { name: 'Show as curves' }).click()
    await page.getByRole('button', { name: 'Take over the gains' }).click()
    await give(page, /^sample rate/, '60')
    await expect(page.getByText(/was made for 14.0 rad\/s with 63°/)).toBeVisible()
    await expect(page.getByText('1 loop to retune')).toBeVisible()
    await page.getByRole('button', { name: 'Retune it' }).click()
    await expect(page.getByText(/was made for/)).toHaveCount(0)
    await expect(findings).toContainText('63.0° in hand')
    await choose(page, /^where gains come from/, 'by a step experiment')
    await expect(page.getByText(/Ask for a crossover and margin|look at the margins/).first()).toBeVisible()
  })

  await test.step('a lifter is told by other estimators, and a mechanism by its sensors', async () => {
    await visit(page, '/lamplighter/loops/tiltEast')
    await page.getByLabel('Add to estimators').selectOption('tiltFilter')
    await expect(page.getByRole('region', { name: 'Estimators' })).toContainText('trusting its gyroscope for')
    await choose(page, /^what it reads/, 'estimated')
    await expect(findings).toContainText('Stable')
    await visit(page, '/lens-turret/loops/pan')
    await choose(page, /^what it reads/, 'measured')
    await expect(page.getByText(/nothing measures rate of yoke/).first()).toBeVisible()
    await page.keyboard.press('Control+z')
  })

  await test.step('another law brings gains that suit it; one that cannot be is explained at its slot', async () => {
    await visit(page, '/lens-turret/loops/pan')
    await choose(page, /^law:/, 'state feedback')
    await expect(page.getByRole('region', { name: 'What may deviate' })).toContainText('rate of yoke')
    await expect(findings).toContainText('Stable')
    await choose(page, /^law:/, 'relay')
    await expect(page.getByText(/A relay has no gain/).first()).toBeVisible()
    await page.keyboard.press('Control+z')
    await page.keyboard.press('Control+z')
    await choose(page, /^what it reads/, 'estimated')
    await expect(page.getByText(/nothing estimates/).first()).toBeVisible()
    const add = page.getByRole('combobox', { name: 'Add to estimators' })
    await add.selectOption('observer')
    // its other joint does not show in what it reads: it is left out
    const sensing = page.getByRole('region', { name: 'Phase account' }).getByText('sensing')
    await expect(sensing).toBeVisible({ timeout: 30_000 })
    await expect(findings).toContainText('Stable')
    await page.keyboard.press('Control+z')
    await expect(page.getByText(/nothing estimates/).first()).toBeVisible()
    await add.selectOption('low-pass')
    await expect(sensing).toBeVisible({ timeout: 30_000 })
  })
  expect(failures).toEqual([])
})

test('a rung dragged out of reach stays in the hand, and Escape or the way back leaves it as it was', async ({
  page,
  served,
}) => {
  await page.goto(`${served.url}/lamplighter/loops/height`)
  const rung = page.getByRole('slider', { name: 'height crossover' })
  const now = async () => Number(await rung.getAttribute('aria-valuenow'))
  await expect(rung).toHaveAttribute('aria-valuetext', /°/)
  const before = await now()
  // the ladder may still make room for what it learns: where the rung stands is measured at each drag
  const take = async (steps: number) => {
    const box = (await rung.locator('circle').boundingBox())!
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2]
    await page.mouse.move(x, y)
    await page.mouse.down()
    for (let i = 1; i <= steps; i++) await page.mouse.move(x, y - 20 * i)
    return [x, y] as const
  }
  // it goes with the hand, however what is told beneath the ladder grows and shrinks
  const [, from] = await take(0)
  let last = before
  for (let i = 1; i <= 5; i++) {
    await page.mouse.move(240, from - 8 * i)
    await expect.poll(now).toBeGreaterThan(last)
    const factor = (await now()) / last
    expect(factor).toBeGreaterThan(1.1)
    expect(factor).toBeLessThan(1.2)
    last = await now()
  }
  await page.keyboard.press('Escape')
  await page.mouse.up()
  await expect.poll(now).toBe(before)
  await take(18)
  await expect(rung).toHaveAttribute('aria-valuetext', /has no gains/)
  await page.keyboard.press('Escape')
  await expect.poll(now).toBe(before)
  await page.mouse.up()
  const [x, y] = await take(18)
  await expect(rung).toHaveAttribute('aria-valuetext', /has no gains/)
  for (let i = 18; i >= 2; i--) await page.mouse.move(x, y - 20 * i)
  await expect(rung).toHaveAttribute('aria-valuetext', /°/)
  await page.mouse.up()
  const after = await now()
  expect(after).toBeGreaterThan(before)
  await page.keyboard.press('Control+z')
  await expect.poll(now).toBe(before)
})
