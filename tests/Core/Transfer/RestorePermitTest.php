<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Transfer;

use Geschenk\Core\Arrival\Totals;
use Geschenk\Core\Transfer\AgreedTo;
use Geschenk\Core\Transfer\ReceiverSeen;
use Geschenk\Core\Transfer\RestorePermit;
use Geschenk\Core\Transfer\RestoreRefused;
use Geschenk\Core\Transfer\Unreadable;
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
                new ReceiverSeen('mark', 2, 0), new AgreedTo('41-B', ' 41-b '), $this->tally(0),
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
            new ReceiverSeen('mark', 1, $holds), new AgreedTo('41-B', $typed),
            null === $missing ? null : $this->tally($missing),
        );
    }

    public function testChatsAreReplacedOnlyInTheNumbersThatWereSeenAndWithASafetyCopyOfWhatIsThereNow(): void
    {
        foreach ([
            [null, 'mark', 'holds_chats'], [6, 'mark', 'holds_chats'], [8, 'mark', 'holds_chats'],
            [7, null, 'no_safety_copy'], [7, 'an older mark', 'no_safety_copy'],
        ] as [$replaces, $copied, $because]) {
            try {
                $this->grant(7, $replaces, $copied);
                self::fail("Granted: $because");
            } catch (RestoreRefused $refusal) {
                self::assertSame($because, $refusal->reason);
            }
        }
        self::assertSame('mark', $this->grant(7, 7, 'mark')->seen);
        // A phone without chats is held to its copy too, where one was taken.
        $this->expectException(RestoreRefused::class);
        $this->expectExceptionMessage('no_safety_copy');
        $this->grant(0, null, 'an older mark');
    }

    public function testWhatIsPutBackNeedsTheTagAndASafetyCopyOfWhatIsThereNow(): void
    {
        $refusals = [['41-A', 'mark', 'wrong_tag'], ['41-B', 'an older mark', 'no_safety_copy']];
        foreach ($refusals as [$typed, $copied, $why]) {
            try {
                RestorePermit::toPutBack(new ReceiverSeen('mark', copied: $copied), new AgreedTo('41-B', $typed));
                self::fail("Granted: $why");
            } catch (RestoreRefused $refusal) {
                self::assertSame($why, $refusal->reason);
            }
        }
        $seen = new ReceiverSeen('mark', copied: 'mark');
        self::assertSame('41-B', RestorePermit::toPutBack($seen, new AgreedTo('41-B', '41-b'))->tag);
    }

    public function testWhatWasMergedIsWrittenOnlyOverTheVeryDataThatItWasMergedWith(): void
    {
        foreach ([
            ['41-A', 0, 'mark', 'wrong_tag'], ['41-B', null, 'mark', 'not_rehearsed'],
            ['41-B', 1, 'mark', 'not_rehearsed'], ['41-B', 0, 'an older mark', 'changed_since_merge'],
        ] as [$typed, $missing, $merged, $why]) {
            try {
                $tally = null === $missing ? null : $this->tally($missing);
                RestorePermit::toMerge(
                    new ReceiverSeen('mark', copied: $merged), new AgreedTo('41-B', $typed), $tally,
                );
                self::fail("Granted: $why");
            } catch (RestoreRefused $refusal) {
                self::assertSame($why, $refusal->reason);
            }
        }
        $seen = new ReceiverSeen('mark', copied: 'mark');
        $agreed = new AgreedTo('41-B', '41-b');
        self::assertSame('mark', RestorePermit::toMerge($seen, $agreed, $this->tally(0))->seen);
    }

    public function testWhatCanNotBeReadThereIsLostOnlyInTheNumbersThatWereAgreedTo(): void
    {
        $seen = static fn (Unreadable $unreadable): ReceiverSeen => new ReceiverSeen(
            'mark', 1, 7, 'mark', $unreadable,
        );
        $three = Unreadable::of(['lost' => 3]);
        $uncounted = Unreadable::of(['loss_uncounted' => true]);
        self::assertSame([3, false, 0, true], [
            $three->messages, $three->isUncounted, $uncounted->messages, $uncounted->isUncounted,
        ]);
        foreach ([[$three, null], [$three, 2], [$three, 4], [$uncounted, null], [$uncounted, 1]] as [$there, $agreed]) {
            foreach ([RestorePermit::grant(...), RestorePermit::toMerge(...)] as $permit) {
                try {
                    $permit($seen($there), new AgreedTo('41-B', '41-B', 7, $agreed), $this->tally(0));
                    self::fail('Granted.');
                } catch (RestoreRefused $refusal) {
                    self::assertSame('unreadable_there', $refusal->reason);
                }
            }
        }
        foreach ([[$three, 3], [$uncounted, 0], [Unreadable::of([]), null]] as [$there, $agreed]) {
            $told = new AgreedTo('41-B', '41-B', 7, $agreed);
            self::assertSame('mark', RestorePermit::grant($seen($there), $told, $this->tally(0))->seen);
            self::assertSame('mark', RestorePermit::toMerge($seen($there), $told, $this->tally(0))->seen);
        }
    }

    private function grant(int $messages, ?int $replaces, ?string $copied): RestorePermit
    {
        return RestorePermit::grant(
            new ReceiverSeen('mark', 1, $messages, $copied), new AgreedTo('41-B', '41-B', $replaces), $this->tally(0),
        );
    }

    private function tally(int $missing): Totals
    {
        return new Totals(1, 10, 10 - $missing, 0, 0, $missing, 0, 0, 0, 0, 0, 0);
    }
}
