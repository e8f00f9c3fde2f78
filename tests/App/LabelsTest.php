<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

/** What is stuck on a phone says more than the screen does: who types it has the phone before them. */
final class LabelsTest extends ApiTestCase
{
    public function testWhatTheLabelSaysIsTakenForTheTagAndThatOfAnotherPhoneIsNot(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $labels = $this->call('GET', "/api/trays/$n")['labels'];
        self::assertIsArray($labels);
        self::assertSame(["$n-A", "$n-B"], array_column($labels, 'tag'));
        [$a, $b] = array_column($labels, 'code');
        self::assertIsString($a);
        self::assertIsString($b);
        self::assertMatchesRegularExpression('/^[0-9A-HJKMNP-TV-Z]{4}$/', $b);
        self::assertNotSame($a, $b);
        self::assertArrayNotHasKey('labels', (array) $this->value($this->call('GET', '/api/trays'), 'trays', 0));
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $order = static fn (string $typed): array => ['kind' => 'restore', 'confirmed_tag' => $typed];
        foreach (["$n-A $a", "$n-B $a", "$n-B ".substr($b, 0, 3), $b, ''] as $wrong) {
            self::assertSame(
                'wrong_tag', $this->refusal('POST', "/api/trays/$n/moves/1/runs", $order($wrong)), $wrong,
            );
        }
        $this->askAndWork($n, $order(strtolower("$n-b-$b")));
        self::assertTrue($this->value($this->move($n), 'arrival', 'complete'));
        // The tag alone too, as the page takes it.
        $this->askAndWork($n, ['kind' => 'put_back', 'confirmed_tag' => " {$n}b "]);
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
    }
}
