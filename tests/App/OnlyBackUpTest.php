<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Archive\Vault;
use Geschenk\Tests\Support\Phones;

/** A customer who only wants a backup: one phone, and no way beyond it. */
final class OnlyBackUpTest extends ApiTestCase
{
    private const ORDER = [
        'customer' => 'Test Person', 'contact' => 'the café', 'consent' => true, 'giving' => Phones::GIVING,
    ];

    public function testFromIntakeToTheSheet(): void
    {
        $this->signIn();
        $this->layPhones();
        $before = Phones::fingerprint($this->giving->data('otterpost'));
        $tray = $this->call('POST', '/api/trays', ['errand' => 'only_back_up', 'language' => 'en'] + self::ORDER, 201);
        $n = $tray['number'];
        self::assertIsInt($n);
        self::assertSame('only_back_up', $tray['errand']);
        self::assertSame([["$n-A", 'gives']], array_map(
            static fn (mixed $phone): array => is_array($phone) ? [$phone['tag'], $phone['role']] : [],
            (array) $tray['phones'],
        ));
        $this->look();
        $readiness = (array) $this->call('GET', "/api/trays/$n/readiness")['phones'];
        self::assertCount(1, $readiness, 'Nothing is asked of a phone that is not there.');
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertSame(
            ['The phone is ready: back up', null, null],
            [$this->text($tray, 'waits', 'text'), $tray['direction'], $tray['proposal']],
        );

        $this->askAndWork($n, ['kind' => 'backup']);
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertSame('hand_over', $tray['stage']);
        self::assertSame('All backed up: hand over with the sheet', $this->text($tray, 'waits', 'text'));
        $id = $this->text($tray, 'moves', 0, 'backup', 'id');
        self::getContainer()->get(Vault::class)->verify($id);
        self::assertSame('only_backs_up', $this->refusal('GET', "/api/trays/$n/moves/1/scope", null));
        foreach (['conversion', 'restore', 'check'] as $kind) {
            $refused = $this->call(
                'POST', "/api/trays/$n/moves/1/runs", ['kind' => $kind, 'confirmed_tag' => "$n-A"], 422,
            );
            self::assertStringContainsString('only backs up', $this->text($refused, 'detail'));
        }
        $refused = $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-A"], 422);
        self::assertStringContainsString('one phone alone', $this->text($refused, 'detail'));
        self::assertSame($before, Phones::fingerprint($this->giving->data('otterpost')));
        // One can look at it, covered as ever.
        $conversations = (array) $this->call('GET', "{$this->backupPath($n)}/conversations")['conversations'];
        self::assertNotEmpty($conversations);

        $this->browser->request('GET', "/trays/$n/sheet");
        $sheet = (string) $this->browser->getResponse()->getContent();
        self::assertResponseIsSuccessful();
        self::assertStringContainsString('The chats were backed up as the customer wished', $sheet);
        self::assertStringContainsString('Taken over the cable, as the chats were on', $sheet);
        self::assertStringNotContainsString('not read back', $sheet);
        self::assertStringNotContainsString('receiv', $sheet);
        $this->handOver($n);
        $tray = $this->call('GET', "/api/trays/$n");
        self::assertTrue($tray['closed']);
        self::assertSame(
            ['opened_to_back_up', 'ready_one', 'backed_up', 'handed_over_backed_up'],
            array_column((array) $tray['steps'], 'code'),
        );
        self::getContainer()->get(Vault::class)->verify($id);
        // The phone is free for another job.
        $this->openTray(laid: true);
    }

    public function testNothingIsHandedOverBeforeItIsBackedUp(): void
    {
        $this->signIn();
        $this->layPhones();
        $n = $this->call('POST', '/api/trays', ['errand' => 'only_back_up'] + self::ORDER, 201)['number'];
        self::assertIsInt($n);
        $refused = $this->call('POST', "/api/trays/$n/hand-over", null, 422);
        self::assertSame('Otterpost is not backed up yet. Back it up, or leave it out.', $refused['detail']);
        $this->browser->request('GET', "/trays/$n/sheet");
        self::assertResponseStatusCodeSame(404);
    }

    public function testAMoveNeedsAPhoneThatReceivesAndABackupTakesNone(): void
    {
        $this->signIn();
        $this->layPhones();
        $this->call('POST', '/api/trays', self::ORDER, 422);
        $this->call('POST', '/api/trays', ['receiving' => ' '] + self::ORDER, 422);
        $this->call('POST', '/api/trays', ['errand' => 'burn it'] + self::ORDER, 422);
        $asked = ['errand' => 'only_back_up', 'receiving' => Phones::RECEIVING] + self::ORDER;
        self::assertCount(1, (array) $this->call('POST', '/api/trays', $asked, 201)['phones']);
    }
}
