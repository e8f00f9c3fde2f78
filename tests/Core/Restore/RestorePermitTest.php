<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Restore;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Restore\RestorePermit;
use Geschenk\Core\Restore\RestoreRefused;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/** Rule 2 of the job: nothing is written before it may be. */
final class RestorePermitTest extends TestCase
{
    public function testItIsGrantedWhenAllIsMet(): void
    {
        self::assertSame('41-B', RestorePermit::grant('41-B', ' 41-b ', $this->tally(0), ['conversations' => 2, 'messages' => 0], 'mark')->tag);
    }

    /** @return iterable<string, array{string, int|null, int, string}> */
    public static function refusals(): iterable
    {
        yield 'another tag' => ['41-A', 0, 0, 'does not name the receiving phone'];
        yield 'no tag' => ['', 0, 0, 'does not name the receiving phone'];
        yield 'no rehearsal' => ['41-B', null, 0, 'rehearsal did not tally'];
        yield 'a rehearsal with a hole' => ['41-B', 1, 0, 'rehearsal did not tally'];
        yield 'a phone with chats' => ['41-B', 0, 7, '7 messages, which would be lost'];
        yield 'a phone with one message' => ['41-B', 0, 1, '1 messages, which would be lost'];
    }

    #[DataProvider('refusals')]
    public function testItIsRefused(string $typed, ?int $missing, int $holds, string $because): void
    {
        $this->expectException(RestoreRefused::class);
        $this->expectExceptionMessage($because);
        RestorePermit::grant('41-B', $typed, null === $missing ? null : $this->tally($missing), ['conversations' => 1, 'messages' => $holds], 'mark');
    }

    private function tally(int $missing): Totals
    {
        return new Totals(1, 10, 10 - $missing, 0, 0, $missing, 0, 0, 0, 0, 0, 0);
    }
}
