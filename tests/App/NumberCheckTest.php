<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Tests\Support\Phones;

/** The number on the phone that receives: not needed for the backup, and nothing is written without it. */
final class NumberCheckTest extends ApiTestCase
{
    private const RECEIVES = '/api/standin/phones/'.Phones::RECEIVING.'/acts';

    public function testTheNumberIsRegisteredBetweenBackupAndRestore(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->receiving->change(static fn (array $s): array => [
            'apps' => array_map(static fn (array $app): array => ['number' => null] + $app, $s['apps']),
        ] + $s);
        $n = $this->openTray(laid: true);
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->look();
        self::assertSame('number', $this->value($this->move($n), 'lacking', 'id'));
        $restore = ['kind' => 'restore', 'confirmed_tag' => "$n-B"];
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 422);

        // First one with a slip of the finger, which is seen; then the one of the backup.
        $this->acts('register otterpost', '+44 7700 900999');
        $other = $this->signUp($n);
        self::assertSame('+447700900999', is_array($other) ? $other['number'] : null);
        $this->acts('leave_sign_up otterpost');
        $this->acts('register otterpost', Phones::NUMBER);
        $this->acts('ask_text otterpost');
        $signUp = $this->signUp($n);
        self::assertIsArray($signUp);
        self::assertSame(['code', 2, 3], [$signUp['wants'], $signUp['texts_left'], $signUp['calls_left']]);
        self::assertIsString($signUp['next_ask_at']);
        $this->call('POST', self::RECEIVES, ['act' => 'enter_code otterpost', 'typed' => 'no'], 422);
        $this->acts('enter_code otterpost', $this->code());

        $tray = $this->call('GET', "/api/trays/$n");
        self::assertTrue($this->value($tray, 'phones', 0, 'live', 'accounts', 0, 'signed_out'));
        self::assertSame('cloud_declined', $this->value($this->move($n), 'lacking', 'id'));
        $this->call('POST', "/api/trays/$n/moves/1/runs", $restore, 422);
        $this->acts('decline_cloud otterpost');
        $this->look();
        self::assertNull($this->move($n)['lacking']);
        $this->askAndWork($n, $restore);
        self::assertTrue($this->value($this->move($n), 'checks', 0, 'totals', 'complete'));
    }

    public function testWhoRegistersBeforeTheBackupCanStillBackUp(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->look();
        $this->acts('register otterpost', Phones::NUMBER);
        $this->acts('ask_text otterpost');
        $this->acts('enter_code otterpost', $this->code());
        $this->acts('decline_cloud otterpost');
        $this->look();
        self::assertSame(Phones::NUMBER, $this->move($n)['number'], 'The chats say whose they are.');
        $before = Phones::fingerprint($this->giving->data('otterpost'));
        $this->askAndWork($n, ['kind' => 'backup']);
        self::assertSame('done', $this->value($this->move($n), 'run', 'state'));
        self::assertSame($before, Phones::fingerprint($this->giving->data('otterpost')));
    }

    public function testWhatWasFetchedFromTheNetStandsInTheWay(): void
    {
        $this->signIn();
        $n = $this->openTray();
        $this->askAndWork($n, ['kind' => 'backup']);
        $this->askAndWork($n, ['kind' => 'conversion']);
        $this->acts('register otterpost', Phones::NUMBER);
        $this->acts('ask_call otterpost');
        $this->acts('enter_code otterpost', $this->code());
        $this->acts('take_cloud otterpost');
        $this->look();
        $this->call(
            'POST', "/api/trays/$n/moves/1/runs", ['kind' => 'restore', 'confirmed_tag' => "$n-B"], 422,
        );
        self::assertStringContainsString('would be replaced', $this->text($this->move($n), 'waits', 'how'));
    }

    private function code(): string
    {
        foreach ((array) $this->call('GET', '/api/standin/phones')['phones'] as $phone) {
            self::assertIsArray($phone);
            foreach ((array) $phone['codes'] as $said) {
                self::assertIsString($said);
                self::assertSame(Phones::GIVING, $phone['serial'], 'It comes to the phone with the card.');

                return (string) preg_replace('/^.* (\d{6})$/', '$1', $said);
            }
        }
        self::fail('No code has come.');
    }

    private function acts(string $act, ?string $typed = null): void
    {
        $this->call('POST', self::RECEIVES, ['act' => $act] + (null === $typed ? [] : ['typed' => $typed]));
    }

    private function signUp(int $tray): mixed
    {
        return $this->value($this->call('GET', "/api/trays/$tray"), 'phones', 1, 'live', 'accounts', 0, 'sign_up');
    }
}
