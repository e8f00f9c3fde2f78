<?php

declare(strict_types=1);

namespace Geschenk\Tests\Journey;

use Geschenk\Tests\App\ApiTestCase;
use PHPUnit\Framework\Attributes\DataProvider;

/** A part goes first, is checked, and the rest comes on top: as if all had gone at once. */
final class TrialTest extends ApiTestCase
{
    /** @return iterable<string, array{string}> */
    public static function trials(): iterable
    {
        yield 'the newest of each' => ['newest'];
        yield 'one conversation' => ['conversation'];
    }

    #[DataProvider('trials')]
    public function testThePartIsCheckedAndTheRestComesOnTop(string $kind): void
    {
        $this->signIn();
        $n = $this->openTray();
        $empty = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        $conversations = (array) $this->call('GET', "{$this->backupPath($n)}/conversations")['conversations'];
        $most = [];
        foreach ($conversations as $one) {
            self::assertIsArray($one);
            $most = $one['messages'] > ($most['messages'] ?? 0) ? $one : $most;
        }
        $trial = 'newest' === $kind ? ['trial_newest' => 3] : ['trial_conversation' => $most['id']];
        $sum = $this->call('POST', "/api/trays/$n/moves/1/scope/sum", $trial);
        self::assertIsInt($most['messages']);
        $part = 'newest' === $kind
            ? array_sum(array_map(
                static fn (mixed $messages): int => min(3, is_int($messages) ? $messages : 0),
                array_column($conversations, 'messages'),
            ))
            : $most['messages'];
        self::assertSame($part, $sum['messages']);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['convert' => true] + $trial);
        $this->work();
        $scope = $this->call('GET', "/api/trays/$n/moves/1/scope");
        self::assertSame($trial, array_intersect_key($scope, $trial));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $move = $this->move($n);
        self::assertTrue($move['trial']);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move['arrival']));
        self::assertSame('check', $move['stage'], 'There is more to come.');
        $found = [];
        foreach ((array) $this->call('GET', "/api/trays/$n/moves/1/arrival")['conversations'] as $row) {
            self::assertIsArray($row);
            $found[] = (int) json_encode($row['arrived']) + (int) json_encode($row['changed']);
        }
        rsort($found);
        self::assertSame('newest' === $kind ? 3 : $found[0], $found[0]);
        self::assertSame('newest' === $kind, 0 !== $found[1], 'One conversation, or something of each.');
        self::assertGreaterThan($part - 10, array_sum($found), 'All of the part but what iOS can not hold.');
        self::assertLessThanOrEqual($part, array_sum($found));
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertStringContainsString('Only a trial is on the receiving phone', $sheet);
        self::assertStringNotContainsString('Everything that was meant to arrive', $sheet);
        self::assertSame('only_a_trial', $this->refusal('POST', "/api/trays/$n/hand-over", []));
        self::assertSame(1, preg_match('/Check code ([0-9A-Z-]{14})\./', $sheet, $code));

        $this->call('POST', "/api/trays/$n/moves/1/rest", null, 202);
        $this->work();
        $this->look();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $move = $this->move($n);
        self::assertFalse($move['trial']);
        self::assertTrue($this->value($move, 'arrival', 'complete'), (string) json_encode($move['arrival']));
        self::assertSame('hand_over', $move['stage']);
        $whole = (array) $move['arrival'];
        self::assertSame(0, $whole['kept'], 'Nothing of the trial is taken for what the phone held before.');
        self::assertSame([[1, 'whole', true], [2, 'rest', false]], array_map(
            static fn (mixed $go): array => is_array($go) ? [$go['number'], $go['aim'], $go['trial']] : [],
            (array) $move['bringings'],
        ));
        self::assertSame([2, 1], array_column((array) $move['checks'], 'bringing'), 'Each is of what it checked.');
        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        foreach (['Brought in several goes', 'A part to begin with', 'The rest, on top of that part'] as $words) {
            self::assertStringContainsString($words, $sheet);
        }
        // A sheet that was printed of the trial is still known for what it is.
        $answer = $this->call('POST', "/api/trays/$n/sheet-code", ['code' => $code[1]]);
        self::assertTrue($answer['same'], (string) json_encode($answer));

        if ('newest' !== $kind) {
            return;
        }
        // Put back, and all brought at once: the phone holds the same.
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($empty, self::contents($this->receiving->data('otterpost')));
        $this->look();
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['merges' => false, 'convert' => true]);
        $this->work();
        self::assertSame('no_trial', $this->refusal('POST', "/api/trays/$n/moves/1/rest", null));
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame($whole, $this->move($n)['arrival']);
        $this->handOver($n);
    }

    public function testATrialCanBeGivenUp(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $before = self::contents($this->receiving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('nothing_checked', $this->tried($n, ['trial_newest' => 1]));
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['trial_newest' => 0], 422);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['trial_newest' => 1001], 422);
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['trial_conversation' => 99_999], 422);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => "$n-B"]);
        self::assertSame($before, self::contents($this->receiving->data('otterpost')));
        $this->call('PUT', "/api/trays/$n/moves/1/scope", ['convert' => true]);
        $this->work();
        $this->askAndWork($n, ['kind' => 'restore', 'confirmed_tag' => "$n-B"]);
        self::assertSame('hand_over', $this->move($n)['stage']);
    }

    /** @param array<string, int> $trial */
    private function tried(int $n, array $trial): string
    {
        $this->call('PUT', "/api/trays/$n/moves/1/scope", $trial);

        return $this->refusal('POST', "/api/trays/$n/moves/1/rest", null);
    }
}
