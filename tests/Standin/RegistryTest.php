<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Archive\ChatSource;
use Geschenk\Core\Messenger\Formats;
use Geschenk\Core\Phone\SignUp;
use Geschenk\Standin\Phone\HandRefused;
use Geschenk\Standin\Phone\Hands;
use Geschenk\Standin\Phone\PhoneFolder;
use Geschenk\Standin\Phone\Registry;
use Geschenk\Standin\Phone\SigningUp;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** A number is registered: codes, waits, card, PIN, and who is signed out by it. */
final class RegistryTest extends TestCase
{
    use Scratch;

    private const APP = 'otterpost';
    private const NUMBER = Phones::NUMBER;

    public function testThreeCodesByEachWayInADayWithGrowingWaits(): void
    {
        $registry = new Registry($this->path());
        $now = 1_795_000_000;
        $begun = $now;
        $waits = [];
        foreach (['text', 'text', 'call', 'text', 'call', 'call'] as $way) {
            $state = $registry->state(self::APP, self::NUMBER, $now);
            self::assertNull($state['next_at']);
            $registry->ask(self::APP, self::NUMBER, $way, $now);
            $next = $registry->state(self::APP, self::NUMBER, $now)['next_at'];
            self::assertNotNull($next);
            $waits[] = $next - $now;
            self::assertSame('refused', $this->refused(
                static fn () => $registry->ask(self::APP, self::NUMBER, $way, $next - 1),
            ));
            $now = $next;
        }
        self::assertSame([60, 300, 900, 3_600, 14_400, 14_400], $waits);
        $state = $registry->state(self::APP, self::NUMBER, $now);
        self::assertSame([0, 0], [$state['texts_left'], $state['calls_left']]);
        $ask = static fn () => $registry->ask(self::APP, self::NUMBER, 'text', $now);
        self::assertSame('refused', $this->refused($ask));
        // The first of them was a day ago; another number has its own.
        self::assertSame(1, $registry->state(self::APP, self::NUMBER, $begun + 86_400)['texts_left']);
        self::assertSame(3, $registry->state(self::APP, '+447700900999', $now)['texts_left']);
        self::assertSame(3, $registry->state('otterpost.counter', self::NUMBER, $now)['texts_left']);
    }

    public function testACodeCountsOnceAndIsVoidAfterThreeWrongOnes(): void
    {
        $registry = new Registry($this->path());
        $now = 1_795_000_000;
        $registry->ask(self::APP, self::NUMBER, 'text', $now);
        $code = (string) $registry->state(self::APP, self::NUMBER, $now)['code'];
        self::assertMatchesRegularExpression('/^\d{6}$/', $code);
        $wrong = '000000' === $code ? '000001' : '000000';
        $enter = static fn (string $typed): callable => static fn () => $registry->enter(
            self::APP, self::NUMBER, $typed, $now,
        );
        self::assertSame('refused', $this->refused($enter($wrong)));
        $registry->enter(self::APP, self::NUMBER, substr($code, 0, 3).'-'.substr($code, 3), $now);
        self::assertSame('refused', $this->refused($enter($code)));
        $registry->ask(self::APP, self::NUMBER, 'call', $now + 60);
        $code = (string) $registry->state(self::APP, self::NUMBER, $now)['code'];
        $wrong = '000000' === $code ? '000001' : '000000';
        for ($n = 0; $n < 3; ++$n) {
            $this->refused($enter($wrong));
        }
        self::assertSame('refused', $this->refused($enter($code)));
    }

    public function testWhoRegistersSignsTheOtherOut(): void
    {
        [$gives, $receives] = $this->phones();
        Hands::do($receives, 'register otterpost', self::NUMBER);
        $signUp = $this->signUp($receives);
        self::assertSame([SignUp::WANTS_WAY, 3], [$signUp?->wants, $signUp?->textsLeft]);
        Hands::do($receives, 'ask_text otterpost');
        $signUp = $this->signUp($receives);
        self::assertSame([SignUp::WANTS_CODE, 2], [$signUp?->wants, $signUp?->textsLeft]);
        self::assertNotNull($signUp?->nextAskAt);
        // The code comes to the phone with the card.
        [$code] = SigningUp::codes($gives, time());
        self::assertSame([[], true], [SigningUp::codes($receives, time()), $code['here']]);
        $given = Phones::link($gives)->state()->app(self::APP);
        self::assertSame(self::NUMBER, $given?->number, 'Not before it is done.');
        Hands::do($receives, 'enter_code otterpost', $code['code']);
        $given = Phones::link($gives)->state()->app(self::APP);
        $there = Phones::link($receives)->state()->app(self::APP);
        self::assertSame([null, true], [$given?->number, $given?->signedOut]);
        self::assertSame([self::NUMBER, null, true], [$there?->number, $there?->signUp, $there?->offersCloud]);
        // The old one's chats are as they were, and it can be registered there again.
        self::assertGreaterThan(50, self::messages($gives));
        Hands::do($receives, 'decline_cloud otterpost');
        self::assertFalse(Phones::link($receives)->state()->app(self::APP)?->offersCloud);
        self::assertSame(0, self::messages($receives));
        Hands::do($gives, 'register otterpost', self::NUMBER);
        self::assertNotNull($this->signUp($gives));
        Hands::do($gives, 'leave_sign_up otterpost');
        self::assertNull($this->signUp($gives));
    }

    public function testThePinOfTheAccountIsAskedForUnlessItIsOff(): void
    {
        [$gives, $receives] = $this->phones(['pin' => '2580']);
        $this->registerUpToTheCode($receives, $gives);
        self::assertSame(SignUp::WANTS_PIN, $this->signUp($receives)?->wants);
        try {
            Hands::do($receives, 'enter_pin otterpost', '1111');
            self::fail();
        } catch (HandRefused $refusal) {
            self::assertSame('hand_wrong_pin', $refusal->reason);
        }
        Hands::do($receives, 'enter_pin otterpost', '2580');
        self::assertSame(self::NUMBER, Phones::link($receives)->state()->app(self::APP)?->number);

        // Switched off while it is asked for: nothing more is wanted, and whoever has the phone goes on.
        [$gives, $receives] = $this->phones(['pin' => '2580']);
        $this->registerUpToTheCode($receives, $gives);
        Hands::do($gives, 'pin_off otterpost');
        self::assertSame(SignUp::WANTS_NOTHING, $this->signUp($receives)?->wants);
        Hands::do($receives, 'go_on otterpost');
        self::assertSame(self::NUMBER, Phones::link($receives)->state()->app(self::APP)?->number);

        [$gives, $receives] = $this->phones(['pin' => '2580']);
        Hands::do($gives, 'pin_off otterpost');
        $this->registerUpToTheCode($receives, $gives);
        self::assertSame(self::NUMBER, Phones::link($receives)->state()->app(self::APP)?->number);
    }

    public function testAfterThreeWrongCodesAnotherIsWanted(): void
    {
        [$gives, $receives] = $this->phones();
        Hands::do($receives, 'register otterpost', self::NUMBER);
        Hands::do($receives, 'ask_text otterpost');
        $code = SigningUp::codes($gives, time())[0]['code'];
        $wrong = '000000' === $code ? '111111' : '000000';
        foreach ([SignUp::WANTS_CODE, SignUp::WANTS_CODE, SignUp::WANTS_ANOTHER_CODE] as $wants) {
            try {
                Hands::do($receives, 'enter_code otterpost', $wrong);
                self::fail();
            } catch (HandRefused) {
                self::assertSame($wants, $this->signUp($receives)?->wants);
            }
        }
        $this->expectException(HandRefused::class);
        Hands::do($receives, 'enter_code otterpost', $code);
    }

    public function testTheCardMayBeInEitherPhoneOrInAThirdOne(): void
    {
        [$gives, $receives] = $this->phones();
        Hands::do($receives, 'register otterpost', self::NUMBER);
        Hands::do($receives, 'ask_call otterpost');
        self::assertCount(1, SigningUp::codes($gives, time()));
        Hands::do($gives, 'sim_out');
        self::assertSame([], SigningUp::codes($gives, time()));
        self::assertSame([false], array_column(SigningUp::codes($receives, time()), 'here'), 'In a third one.');
        Hands::do($receives, 'sim_in '.self::NUMBER);
        self::assertSame([true], array_column(SigningUp::codes($receives, time()), 'here'));
        $this->expectException(HandRefused::class);
        Hands::do($gives, 'sim_in '.self::NUMBER);
    }

    public function testWhatWasFetchedFromTheNetIsSeen(): void
    {
        [$gives, $receives] = $this->phones();
        $this->registerUpToTheCode($receives, $gives);
        Hands::do($receives, 'take_cloud otterpost');
        self::assertGreaterThan(10, self::messages($receives));
    }

    /**
     * @param array{pin?: string} $app
     *
     * @return array{PhoneFolder, PhoneFolder} the number is on the first alone
     */
    private function phones(array $app = []): array
    {
        $gives = Phones::giving($this->path('phones'));
        $receives = Phones::receiving($this->path('phones'));
        $gives->change(static fn (array $s): array => [
            'apps' => array_map(static fn (array $one): array => $app + $one, $s['apps']),
        ] + $s);
        $receives->change(static fn (array $s): array => [
            'apps' => array_map(static fn (array $one): array => ['number' => null] + $one, $s['apps']),
        ] + $s);
        @unlink($this->path('phones/registry.json'));

        return [$gives, $receives];
    }

    private function registerUpToTheCode(PhoneFolder $phone, PhoneFolder $withCard): void
    {
        Hands::do($phone, 'register otterpost', self::NUMBER);
        Hands::do($phone, 'ask_text otterpost');
        Hands::do($phone, 'enter_code otterpost', SigningUp::codes($withCard, time())[0]['code'] ?? '');
    }

    private function signUp(PhoneFolder $phone): ?SignUp
    {
        return Phones::link($phone)->state()->app(self::APP)?->signUp;
    }

    private static function messages(PhoneFolder $phone): int
    {
        return ChatSource::open($phone->data(self::APP), new Formats(), false)
            ->chats->summary()['messages'];
    }

    /** @param callable(): void $work */
    private function refused(callable $work): string
    {
        try {
            $work();
        } catch (HandRefused) {
            return 'refused';
        }

        return 'done';
    }
}
