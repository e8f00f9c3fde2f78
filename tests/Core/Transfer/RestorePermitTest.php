<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Transfer;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\RestoreRefused;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Rule 2 of the job: nothing is written before it may be. */
final class RestorePermitTest extends TestCase
{
    public function testItIsGrantedWhenAllIsMet(): void
    {
        self::assertSame(
            '41-B',
            RestorePermit::grant(
                '41-B', ' 41-b ', $this->tally(0), ['conversations' => 2, 'messages' => 0], 'mark',
            )->tag,
        );
    }

    /** @return iterable<string, array{string, int|null, int, string}> */
    public static function refusals(): iterable
    {
        yield 'another tag' => ['41-A', 0, 0, 'wrong_tag'];
        yield 'no tag' => ['', 0, 0, 'wrong_tag'];
        yield 'no rehearsal' => ['41-B', null, 0, 'not_rehearsed'];
        yield 'a rehearsal with a hole' => ['41-B', 1, 0, 'not_rehearsed'];
        yield 'a phone with chats' => ['41-B', 0, 7, 'holds_chats {"conversations":1,"messages":7}'];
        yield 'a phone with one message' => ['41-B', 0, 1, 'holds_chats {"conversations":1,"messages":1}'];
    }

    #[DataProvider('refusals')]
    public function testItIsRefused(string $typed, ?int $missing, int $holds, string $because): void
    {
        $this->expectException(RestoreRefused::class);
        $this->expectExceptionMessage($because);
        RestorePermit::grant(
            '41-B', $typed, null === $missing ? null : $this->tally($missing),
            ['conversations' => 1, 'messages' => $holds], 'mark',
        );
    }

    private function tally(int $missing): Totals
    {
        return new Totals(1, 10, 10 - $missing, 0, 0, $missing, 0, 0, 0, 0, 0, 0);
    }
}
