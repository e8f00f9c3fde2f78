<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Tests\Support\Phones;

/** Who gives is proposed from what the phones hold. */
final class RolesProposalTest extends ApiTestCase
{
    public function testThePhoneWithMoreChatsIsProposedWhoeverWasChosen(): void
    {
        $this->signIn();
        $n = $this->openTray();
        self::assertNull($this->call('GET', "/api/trays/$n")['proposal'], 'Nobody has looked yet.');
        $this->look();
        $proposal = $this->call('GET', "/api/trays/$n")['proposal'];
        self::assertIsArray($proposal);
        self::assertSame(
            ["$n-A", true, true], [$proposal['gives'], $proposal['agrees'], $proposal['same_number']],
        );
        self::assertGreaterThan(50, $this->value($proposal, 'there', 'messages'));
        self::assertSame(['messages' => 0, 'newest_at' => null], $proposal['other']);
        $this->call('PUT', "/api/trays/$n/roles", ['giving_tag' => "$n-B"]);
        $proposal = $this->call('GET', "/api/trays/$n")['proposal'];
        self::assertIsArray($proposal);
        self::assertSame(["$n-A", false], [$proposal['gives'], $proposal['agrees']]);
    }

    public function testTwoPhonesThatHoldNothingSpeakForNeither(): void
    {
        $this->signIn();
        $this->layPhones();
        $folder = dirname($this->giving->path);
        exec('rm -rf '.escapeshellarg($this->giving->path));
        Phones::receiving($folder, ['serial' => Phones::GIVING]);
        $n = $this->openTray(laid: true);
        $this->look();
        self::assertNull($this->call('GET', "/api/trays/$n")['proposal']);
    }
}
