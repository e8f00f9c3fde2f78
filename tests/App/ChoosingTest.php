<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

/** What goes across: counted live, kept with the move, and said until the end. */
final class ChoosingTest extends ApiTestCase
{
    public function testWhatIsLeftOutIsCountedStaysVisibleAndTheRestArrives(): void
    {
        $n = $this->backedUp();
        $all = $this->call('GET', "/api/trays/$n/moves/1/scope");
        self::assertSame([true, [], [], null], [
            $all['may_choose'], $all['groups'], $all['conversations'], $all['habit'],
        ]);
        self::assertSame(0, $this->value($all, 'sum', 'left_out'));
        self::assertTrue($this->value($all, 'sum', 'fits'));
        $conversations = (array) $this->call('GET', "{$this->backupPath($n)}/conversations")['conversations'];
        $one = $this->value($conversations, 0, 'id');
        $left = ['groups' => ['photos', 'videos'], 'conversations' => [$one]];
        $sum = $this->call('POST', "/api/trays/$n/moves/1/scope/sum", $left);
        self::assertLessThan($this->value($all, 'sum', 'bytes'), $sum['bytes']);
        self::assertGreaterThanOrEqual($this->value($conversations, 0, 'messages'), $sum['left_out']);
        self::assertNull($this->move($n)['left_out_on_purpose'], 'Asking what it would bring chooses nothing.');

        $this->call('PUT', "/api/trays/$n/moves/1/scope", $left);
        $kept = $this->call('GET', "/api/trays/$n/moves/1/scope");
        self::assertSame([['photos', 'videos'], [$one]], [$kept['groups'], $kept['conversations']]);
        self::assertSame($sum, $kept['sum']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $losses = $this->call('GET', "/api/trays/$n/moves/1/losses");
        $rules = array_column((array) $losses['losses'], 'rule');
        self::assertContains('chosen_conversation', $rules);
        self::assertTrue($this->value($losses, 'totals', 'complete'));
        self::assertGreaterThanOrEqual($sum['left_out'], $this->value($losses, 'totals', 'left_out'));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $arrival = $this->call('GET', "/api/trays/$n/moves/1/arrival");
        self::assertTrue($this->value($arrival, 'totals', 'complete'));
        self::assertSame(
            $this->value($all, 'sum', 'messages'), $this->value($arrival, 'totals', 'messages'), 'The sums add up.',
        );
        $words = $this->move($n)['left_out_on_purpose'];
        self::assertIsString($words);
        self::assertStringStartsWith('Left out on purpose: photos, videos, 1 conversation (', $words);
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('Left out on purpose: conversations that were chosen to stay', $sheet);
        self::assertStringContainsString('left out on purpose: ', $sheet, 'The steps that were done say it too.');
        self::assertFalse($this->call('GET', "/api/trays/$n/moves/1/scope")['may_choose']);
        self::assertSame('choice_after_restore', $this->refused($n, []));
    }

    public function testAnotherChoiceAfterTheRehearsalHasToBeRehearsed(): void
    {
        $n = $this->backedUp();
        $this->askAndWork($n, ['kind' => 'conversion']);
        self::assertSame('restore', $this->move($n)['stage']);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", []);
        self::assertSame('restore', $this->move($n)['stage'], 'The same choice changes nothing.');
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['groups' => ['stickers']]);
        self::assertSame('choose', $this->move($n)['stage']);
        $this->call(
            'POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 422,
        );
    }

    public function testItIsChosenAndConvertedInOneRequestAndOnlyOnce(): void
    {
        $n = $this->backedUp();
        $late = '/scope?after='.$this->text($this->move($n), 'run', 'id');
        $this->call('PUT', "/api/trays/$n/moves/1$late", ['groups' => ['videos'], 'convert' => true]);
        self::assertSame('busy', $this->refused($n, ['groups' => [], 'convert' => true]));
        $this->work();
        self::assertSame('restore', $this->move($n)['stage']);
        self::assertSame(['videos'], $this->call('GET', "/api/trays/$n/moves/1/scope")['groups']);
        // Whoever presses the button late has it converted no second time, and changes nothing of what was chosen.
        foreach (['videos', 'stickers'] as $group) {
            self::assertSame('meanwhile', $this->refusal(
                'PUT', "/api/trays/$n/moves/1$late", ['groups' => [$group], 'convert' => true],
            ));
        }
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
        self::assertSame(['videos'], $this->call('GET', "/api/trays/$n/moves/1/scope")['groups']);
    }

    public function testWhatCannotBeChosenIsRefusedInWords(): void
    {
        $n = $this->backedUp();
        self::assertSame('no_such_group', $this->refused($n, ['groups' => ['hats']]));
        self::assertSame('no_such_conversation', $this->refused($n, ['conversations' => [99_999]]));
        self::assertSame('no_day', $this->refused($n, ['from' => '2024-02-31']));
        self::assertSame('no_days_between', $this->refused($n, ['from' => '2024-03-01', 'to' => '2024-02-01']));
        $conversations = (array) $this->call('GET', "{$this->backupPath($n)}/conversations")['conversations'];
        self::assertSame('nothing_chosen', $this->refused($n, ['conversations' => array_column($conversations, 'id')]));
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['groups' => 'videos'], 422);
        $this->call('PUT', "/api/trays/$n/moves/7/scope", [], 404);
        self::assertSame([], $this->call('GET', "/api/trays/$n/moves/1/scope")['groups']);
    }

    public function testTheDaysAreTheShopsAndTheLastOneIsBrought(): void
    {
        $n = $this->backedUp();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['from' => '2024-07-01', 'to' => '2026-12-31']);
        $kept = $this->call('GET', "/api/trays/$n/moves/1/scope");
        self::assertSame(['2024-07-01', '2026-12-31'], [$kept['from'], $kept['to']]);
        self::assertStringContainsString('all before 1 Jul 2024', $this->text($this->move($n), 'left_out_on_purpose'));
    }

    public function testTheShopKeepsAHabit(): void
    {
        $n = $this->backedUp();
        $habit = ['groups' => ['videos'], 'archived' => true, 'empty' => false, 'quiet_months' => 24];
        self::assertSame($habit, $this->call('PUT', '/api/habit', $habit));
        self::assertSame($habit, $this->call('GET', "/api/trays/$n/moves/1/scope")['habit']);
        $this->call('PUT', '/api/habit', ['groups' => ['hats']] + $habit, 422);
        $this->call('PUT', '/api/habit', ['quiet_months' => 0] + $habit, 422);
        self::assertSame($habit, $this->call('GET', "/api/trays/$n/moves/1/scope")['habit']);
    }

    public function testWhatDoesNotFitIsNotWritten(): void
    {
        $n = $this->backedUp();
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->receiving->change(static fn (array $s): array => [
            'storage_other' => $s['storage_total'] - 100_000,
        ] + $s);
        $this->watch();
        self::assertFalse($this->value($this->call('GET', "/api/trays/$n/moves/1/scope"), 'sum', 'fits'));
        self::assertSame('space', $this->value($this->move($n), 'lacking', 'id'), 'The button is not there.');
        $this->call(
            'POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 422,
        );
    }

    private function backedUp(): int
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->look();

        return $n;
    }

    /** @param array<string, mixed> $scope */
    private function refused(int $n, array $scope): string
    {
        return $this->refusal('PUT', "/api/trays/$n/moves/1/scope", $scope);
    }
}
